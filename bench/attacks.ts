import { request } from 'node:http'
import path from 'node:path'
import { setTimeout as pause } from 'node:timers/promises'
import { Worker } from 'node:worker_threads'
import pg from 'pg'
import { ensureBuild } from '../scripts/lib/build.mjs'
import { freePort } from '../scripts/lib/run.mjs'
import { startServer } from '../scripts/lib/server.mjs'
import type { Figure } from './figure'
import { zipOf } from '../tests/zip'
import { calendarOf, gif, png, tiff, webp } from './hostile-files'

/**
 * What one person waits for while another asks for as much as can be asked: a light route (suppliers, found by a word in the
 * database) every 20 ms, with two lanes of each attack beside it for some seconds, beside the
 * same route with nothing else going on. All of it runs on one machine: the asking takes its share too.
 */
const LANES = 2
const SECONDS = 6
const EVERY = 20
/** Items that the company has beside the demo’s, each with an open order. */
const MORE_ITEMS = 20_000
const PASSWORD = 'boards-and-thread'
const MEGABYTE = 1024 * 1024

interface Person {
  readonly base: string
  readonly cookie: string
}
/** Asks once, and answers the status. */
type Attack = (person: Person) => Promise<number>

export async function* run({ root }: { readonly root: string }): AsyncGenerator<Figure> {
  ensureBuild(root)
  const port = await freePort()
  const server = await startServer({
    root,
    port,
    databaseUrl: process.env.DATABASE_URL!,
    sessionPassword: 'a throw-away password of the bench',
    begin: 'demo',
    stdio: ['ignore', 'ignore', 'inherit'],
  })
  try {
    const base = `http://127.0.0.1:${port}`
    const items = await addItems()
    const viewer = { base, cookie: await signIn(base, 'guest@hollowmere.example') }
    const owner = { base, cookie: await signIn(base, 'ines@hollowmere.example') }
    const alone = await percentile(root, viewer, () => pause(SECONDS * 1000))
    yield {
      bench: 'attacks',
      figure: 'a light route alone, p95',
      value: alone,
      unit: 'ms',
      comparedWith: 'itself',
      ratio: 1,
    }
    for (const [name, attack] of Object.entries(attacksWith(items))) {
      const statuses = new Set<number>()
      const value = await percentile(root, viewer, () => attackFor(owner, attack, statuses))
      yield {
        bench: 'attacks',
        figure: `p95 beside: ${name} (${[...statuses].sort().join(', ')})`,
        value,
        unit: 'ms',
        comparedWith: 'the same route alone',
        ratio: value / alone,
      }
    }
  } finally {
    await server.stop()
  }
}

/** Items by the thousand, each like an item of the demo that is bought, and ordered once; answers some of them. */
async function addItems(): Promise<readonly number[]> {
  const client = new pg.Client({ connectionString: process.env.DATABASE_URL })
  await client.connect()
  try {
    const itemColumns = await columnsOf(client, 'items', ['id', 'code'])
    await client.query(
      `insert into items (code, ${itemColumns})
       select 'MANY-' || n, ${itemColumns} from items cross join generate_series(1, ${MORE_ITEMS}) n where code = 'AWL'`,
    )
    const lineColumns = await columnsOf(client, 'sales_lines', ['id', 'line', 'item_id'])
    await client.query(
      `insert into sales_lines (line, item_id, ${lineColumns})
       select 1000 + row_number() over (), i.many, ${lineColumns}
       from (select id as many from items where code like 'MANY-%') i
       cross join (select * from sales_lines where shipped = 0 order by id limit 1) l`,
    )
    const { rows } = await client.query<{ id: number }>(
      `select id from items where code like 'MANY-%' order by id limit 200`,
    )
    await client.query('analyze')
    return rows.map(({ id }) => id)
  } finally {
    await client.end()
  }
}

/** The columns of a table that are filled by whoever adds a row, but for some. */
async function columnsOf(client: pg.Client, table: string, but: readonly string[]): Promise<string> {
  const { rows } = await client.query<{ name: string }>(
    `select quote_ident(column_name) as name from information_schema.columns
     where table_schema = 'public' and table_name = $1 and column_name <> all ($2) and is_generated = 'NEVER'`,
    [table, but],
  )
  return rows.map(({ name }) => name).join(', ')
}

async function signIn(base: string, email: string): Promise<string> {
  const answer = await fetch(`${base}/api/company/sign-in`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email, password: PASSWORD }),
  })
  return answer.headers.get('set-cookie')!.split(';')[0]!
}

/** The milliseconds within which 95 of 100 answers of the light route came, while `work` went on. */
async function percentile(root: string, { base, cookie }: Person, work: () => Promise<unknown>): Promise<number> {
  const asker = new Worker(path.join(root, 'scripts/lib/light-route.mjs'), {
    workerData: { address: `${base}/api/catalogue/partners?kind=supplier&search=mill`, cookie, every: EVERY },
  })
  const told = new Promise<number[]>((resolve, reject) => asker.once('message', resolve).once('error', reject))
  await work()
  asker.postMessage('enough')
  const took = (await told).sort((a, b) => a - b)
  return took[Math.ceil(took.length * 0.95) - 1]!
}

async function attackFor(person: Person, attack: Attack, statuses: Set<number>): Promise<void> {
  const end = performance.now() + SECONDS * 1000
  const lane = async (): Promise<void> => {
    do {
      statuses.add(await attack(person))
    } while (performance.now() < end)
  }
  await Promise.all(Array.from({ length: LANES }, lane))
}

function attacksWith(items: readonly number[]): Readonly<Record<string, Attack>> {
  const picture = (content: Buffer): Attack => send('/api/catalogue/pictures', { content: content.toString('base64') })
  const file = (fileName: string, content: Buffer): Attack =>
    send('/api/catalogue/batches', { table: 'items', fileName, content: content.toString('base64') })
  const labels = {
    symbology: 'QR',
    sheet: 'A4, 3 × 8',
    items: items.slice(0, 2).map((id) => ({ id, unit: 'piece', copies: 500 })),
  }
  const lines = items.map((itemId) => ({ itemId, quantity: '7', unit: 'piece' }))
  return {
    '1 000 QR labels': send('/api/catalogue/labels', labels),
    'a body of 200 MB, its length told': bodyOf(200, true),
    'a body of 200 MB, its length not told': bodyOf(200, false),
    'a picture of 20 000 × 20 000, PNG': picture(png(20_000)),
    'the same, WebP': picture(webp(20_000)),
    'the same, GIF': picture(gif(20_000)),
    'the same, TIFF': picture(tiff(20_000)),
    'a calendar of 200 years': send('/api/catalogue/holidays/file', { text: calendarOf(200) }),
    'a workbook of 200 MB unpacked': file(
      'a.xlsx',
      zipOf('xl/worksheets/sheet1.xml', Buffer.alloc(200 * MEGABYTE, 'a')),
    ),
    'a CSV of 200 000 columns': file('a.csv', Buffer.from(`${'x,'.repeat(200_000)}x\n`)),
    'buildable with 100 000 digits': send('/api/structure/buildable', {
      wanted: [{ itemId: items[0], quantity: '9'.repeat(100_000), unit: 'piece' }],
    }),
    'a promise of 200 lines': send('/api/demand/promise', { lines }),
    [`a plan of ${MORE_ITEMS.toLocaleString('en').replace(',', ' ')} items`]: planned,
  }
}

/** Sends a body as JSON, written out once. */
function send(address: string, content: object): Attack {
  const body = JSON.stringify(content)
  return async ({ base, cookie }) => {
    const answer = await fetch(`${base}${address}`, {
      method: 'POST',
      headers: { cookie, 'content-type': 'application/json' },
      body,
    })
    await answer.arrayBuffer()
    return answer.status
  }
}

/** Sends megabytes to whoever goes on reading; a server that closes the connection has answered before. */
function bodyOf(megabytes: number, isTold: boolean): Attack {
  const part = Buffer.alloc(MEGABYTE, 'a')
  return ({ base, cookie }) =>
    new Promise((resolve) => {
      const asked = request(`${base}/api/catalogue/pictures`, {
        method: 'POST',
        headers: {
          cookie,
          'content-type': 'application/json',
          ...(isTold ? { 'content-length': megabytes * MEGABYTE } : { 'transfer-encoding': 'chunked' }),
        },
      })
      let status = 0
      let left = megabytes
      const write = (): void => {
        while (left-- > 0 && !asked.destroyed) {
          if (!asked.write(part)) {
            asked.once('drain', write)
            return
          }
        }
        asked.end()
      }
      asked.on('response', (answer) => {
        status = answer.statusCode ?? 0
        answer.resume()
        asked.destroy()
      })
      asked.on('error', () => asked.destroy())
      asked.on('close', () => resolve(status))
      write()
    })
}

/** Computes a plan of everything, and waits for it. */
async function planned(person: Person): Promise<number> {
  const { base, cookie } = person
  const list = (await (await fetch(`${base}/api/planning/plans`, { headers: { cookie } })).json()) as { id: number }[]
  const plan = list[0] ?? (await makePlan(person))
  await send(`/api/planning/plans/${plan.id}/run`, {})(person)
  for (;;) {
    const answer = await fetch(`${base}/api/planning/plans/${plan.id}/run`, { headers: { cookie } })
    const { state, problem } = (await answer.json()) as { state: string; problem: string }
    if (state === 'done') {
      return answer.status
    }
    if (state !== 'waiting' && state !== 'running') {
      throw new Error(`The plan was not computed: ${state} ${problem}`)
    }
    await pause(200)
  }
}

async function makePlan({ base, cookie }: Person): Promise<{ id: number }> {
  const answer = await fetch(`${base}/api/planning/plans`, {
    method: 'POST',
    headers: { cookie, 'content-type': 'application/json' },
    body: JSON.stringify({ name: 'Everything', kind: 'trial', endsOn: '2027-12-31', demandRule: 'orders only' }),
  })
  return (await answer.json()) as { id: number }
}
