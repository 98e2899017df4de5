import { spawnSync } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { ratio, ZERO } from '~~/core/units/exact'
import { db, pool } from '~~/server/database/client'
import { once } from '~~/server/database/transactions'
import { prepareDatabase } from '~~/server/services/company/prepare'
import { keepMonthEnds } from '~~/server/services/books/month-ends'
import { traceGoods } from '~~/server/services/stock/genealogy'
import { post } from '~~/server/ledger/post'
import { listBalances } from '~~/server/services/stock/queries'
import { listMoves } from '~~/server/services/stock/move-queries'
import { listBySite } from '~~/server/services/stock/site-stock'
import { checkBalances } from '~~/server/ledger/check/balances'
import { SiteQuery, StockQuery } from '~~/shared/stock/requests'
import { best, stream, type Figure } from './figure'
import { BARE_POSTING } from './posting-script'
import { fillBuilds, fillStock, ITEMS, LOTS, MOVES_A_LOT } from './stock-set'

const SIZE = `${ITEMS / 1000} 000 items, ${(LOTS * MOVES_A_LOT) / 1e6} million moves, ${LOTS / 1000} 000 lots`
const SECONDS = 8

/** Posting, looking and working out again on a ledger of years, each beside what PostgreSQL itself needs. */
export async function* run(): AsyncGenerator<Figure> {
  await prepareDatabase('demo')
  await fillStock()
  await fillBuilds()
  const postings = await measurePostings()
  const page = await best(5, () => listBalances(StockQuery.parse({})))
  const filtered = await best(5, () => listBalances(StockQuery.parse({ search: 'item 4321' })))
  const deep = await best(5, () => listBalances(StockQuery.parse({ page: 1500, size: 100 })))
  const moves = await best(5, () => listMoves(StockQuery.parse({})))
  const {
    rows: [site],
  } = await pool.query<{ id: number }>(`select id from sites where code = 'BENCH-1'`)
  const asOf = await best(3, () => listBalances(StockQuery.parse({ site: site!.id, asOf: '2025-10-01', size: 50 })))
  const bareSum = await best(3, () =>
    pool.query(
      `select item_id, sum(quantity) from moves m join places p on p.id = m.to_place_id where p.site_id = $1 and effective_on <= '2025-10-01' group by 1`,
      [site!.id],
    ),
  )
  const sites = await best(3, () => listBySite(SiteQuery.parse({})))
  const keeping = await best(1, () => keepMonthEnds('2026-10-05'))
  const keptAsOf = await best(3, () => listBalances(StockQuery.parse({ site: site!.id, asOf: '2025-10-01', size: 50 })))
  const rebuilt = await best(1, async () => {
    if ((await checkBalances(db)).length > 0) {
      throw new Error('The balances differed from the moves')
    }
  })
  const {
    rows: [glue],
  } = await pool.query<{ lot: number }>('select lot from bench_lots where n = 0')
  let reached = 0
  const trace = await best(3, async () => {
    reached = (await traceGoods({ lot: glue!.lot, piece: null }, 'forward')).nodes.length
  })
  const {
    rows: [top],
  } = await pool.query<{ lot: number }>('select lot from bench_lots where n = 124000')
  const back = await best(3, () => traceGoods({ lot: top!.lot, piece: null }, 'back'))
  const memory = await measureMemory()
  await pool.end()
  const figure = (name: string, value: number, unit: string, comparedWith: string, ratio: number): Figure => ({
    bench: 'stock',
    figure: name,
    value,
    unit,
    comparedWith,
    ratio,
  })
  yield* [
    ...postings,
    figure(`first page of what lies where (${SIZE})`, page, 'ms', 'the 100 ms that it may take', page / 100),
    figure('first page of a search in it', filtered, 'ms', 'the 100 ms', filtered / 100),
    figure('page 1 500 of 100 rows', deep, 'ms', 'the first page', deep / page),
    figure('first page of the moves', moves, 'ms', 'the 100 ms', moves / 100),
    figure(
      'what lay at one site a year ago, first page, before month ends are kept',
      asOf,
      'ms',
      `a bare sum of what came in there (${bareSum.toFixed(0)} ms; it may take 500)`,
      asOf / bareSum,
    ),
    figure(
      'the same once month ends are kept, as the server does by itself',
      keptAsOf,
      'ms',
      'the 500 ms that it may take',
      keptAsOf / 500,
    ),
    figure(
      'keeping 24 month ends, beside other work',
      keeping / 1000,
      's',
      'what lay there a year ago, 24 times',
      keeping / asOf / 24,
    ),
    figure('stock by site, first page', sites, 'ms', 'the 500 ms', sites / 500),
    figure(
      'all balances worked out again and compared',
      rebuilt / 1000,
      's',
      'the 30 s that it may take',
      rebuilt / 30_000,
    ),
    figure(
      `recall forward of a lot that reaches ${reached}`,
      trace,
      'ms',
      'the 1 000 ms that it may take',
      trace / 1000,
    ),
    figure('what is in a lot, four levels back', back, 'ms', 'the 1 000 ms', back / 1000),
    ...(memory === null
      ? []
      : [
          figure(
            'memory of the server after 300 pages of stock, moves and values',
            memory,
            'MiB',
            'the 512 MiB that it may take',
            memory / 512,
          ),
        ]),
  ]
}

/**
 * Postings of five lines a second, one after the other and by four, beside the bare statements by pgbench in the same
 * cluster.
 */
async function measurePostings(): Promise<Figure[]> {
  const actor = { userId: 1, name: 'Bench', role: 'owner' as const, today: '2026-10-05' }
  const { rows: lots } = await pool.query<{ lot: number; item: number; place: number }>(
    'select lot, item, place from bench_lots order by n',
  )
  const {
    rows: [supplier],
  } = await pool.query<{ id: number }>(`select id from places where kind = 'supplier'`)
  const next = stream(7)
  const postOne = () => {
    const i = next(40_000)
    return once(actor, randomUUID(), async (tx) => ({
      id: (
        await post(tx, actor, {
          kind: 'goods receipt',
          label: 'bench',
          effectiveOn: actor.today,
          moves: [0, 1, 2, 3, 4].map((n) => {
            const lot = lots[i + n * 20_000]!
            return {
              itemId: lot.item,
              lotId: lot.lot,
              quantity: ratio(5),
              from: { placeId: supplier!.id, status: null },
              to: { placeId: lot.place, status: 'available' as const },
              entered: '5',
              unit: 'piece',
              residue: ZERO,
              valuation: { kind: 'stated' as const, value: 50n },
            }
          }),
        })
      ).postingId,
    }))
  }
  const rate = async (lanes: number): Promise<number> => {
    const until = performance.now() + SECONDS * 1000
    let done = 0
    await Promise.all(
      Array.from({ length: lanes }, async () => {
        while (performance.now() < until) {
          await postOne()
          done++
        }
      }),
    )
    return done / SECONDS
  }
  await rate(1)
  const folder = mkdtempSync(path.join(tmpdir(), 'tsumiki-bench-'))
  const script = path.join(folder, 'posting.sql')
  writeFileSync(script, BARE_POSTING)
  const url = new URL(process.env.DATABASE_URL!)
  const pgbench =
    [
      '/usr/lib/postgresql/15/bin/pgbench',
      '/usr/lib/postgresql/16/bin/pgbench',
      '/usr/lib/postgresql/17/bin/pgbench',
    ].find(existsSync) ?? 'pgbench'
  const yardstick = (lanes: number): number => {
    const answer = spawnSync(
      pgbench,
      [
        '-n',
        '-M',
        'prepared',
        '-c',
        String(lanes),
        '-T',
        String(SECONDS),
        '-f',
        script,
        '-h',
        url.hostname,
        '-p',
        url.port,
        '-U',
        url.username,
        url.pathname.slice(1),
      ],
      { encoding: 'utf8', env: { ...process.env, PGPASSWORD: url.password } },
    )
    return Number(/tps = ([\d.]+)/.exec(answer.stdout)?.[1] ?? NaN)
  }
  const figures: Figure[] = []
  for (const lanes of [1, 4]) {
    const ours = await rate(lanes)
    const theirs = yardstick(lanes)
    figures.push({
      bench: 'stock',
      figure: `postings of 5 lines, ${lanes === 1 ? 'one after the other' : `by ${lanes} at once`}`,
      value: ours,
      unit: 'a second',
      comparedWith: `bare inserts and updates by pgbench (${theirs.toFixed(0)} a second; at least half is asked)`,
      ratio: ours / theirs,
    })
  }
  rmSync(folder, { recursive: true })
  return figures
}

/** The resident memory of the built server after it has answered pages; null where nothing is built. */
async function measureMemory(): Promise<number | null> {
  if (!existsSync('.output/server/index.mjs')) {
    return null
  }
  const { startServer } = (await import(path.resolve('scripts/lib/server.mjs'))) as {
    startServer(options: object): Promise<{ child: { pid: number }; stop(): Promise<void> }>
  }
  const { freePort } = (await import(path.resolve('scripts/lib/run.mjs'))) as { freePort(): Promise<number> }
  const port = await freePort()
  const server = await startServer({
    root: process.cwd(),
    port,
    databaseUrl: process.env.DATABASE_URL,
    sessionPassword: 'a throw-away password of the bench',
    begin: 'demo',
    stdio: ['ignore', 'ignore', 'ignore'],
  })
  const base = `http://127.0.0.1:${port}/api`
  const signedIn = await fetch(`${base}/company/sign-in`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email: 'ines@hollowmere.example', password: 'boards-and-thread' }),
  })
  const cookie = signedIn.headers.get('set-cookie')!.split(';')[0]!
  for (let i = 0; i < 100; i++) {
    for (const url of [`stock/balances?page=${i + 1}`, `stock/moves?page=${i + 1}`, `stock/lots?page=${i + 1}`]) {
      await (await fetch(`${base}/${url}`, { headers: { cookie } })).arrayBuffer()
    }
  }
  const memory = Number(/VmRSS:\s+(\d+) kB/.exec(readFileSync(`/proc/${server.child.pid}/status`, 'utf8'))![1]) / 1024
  await server.stop()
  return memory
}
