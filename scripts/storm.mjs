import { randomInt, randomUUID } from 'node:crypto'
import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { fileURLToPath } from 'node:url'
import { ensureBuild } from './lib/build.mjs'
import { loadBundled } from './lib/bundle.mjs'
import { ensureDebian, ensurePackages } from './lib/packages.mjs'
import { startPostgres } from './lib/postgres.mjs'
import { freePort, isAlive, pause } from './lib/run.mjs'
import { orStop, say, Stop } from './lib/say.mjs'
import { startServer } from './lib/server.mjs'

const root = fileURLToPath(new URL('..', import.meta.url))
const CLIENTS = 4
const SIGN_IN = { email: 'ines@hollowmere.example', password: 'boards-and-thread' }
const ITEMS = ['BONE', 'WAX', 'NEEDLE', 'BLADE']
/** Milliseconds that somebody lives at most before the next kill. */
const LIVES = 300

await orStop(main())

/**
 * `npm run storm [-- SERVERS [DATABASES]]`: four clients record without a pause over two web servers, while so many
 * servers (1,000) and databases (50) are killed under them. Whoever gets no answer sends the same again. At the end
 * nothing acknowledged may be missing, nothing be there twice or half, and quantities, values and journal must agree.
 */
async function main() {
  const [servers = 1000, databases = 50] = process.argv.slice(2).map(Number)
  if (![servers, databases].every((count) => Number.isInteger(count) && count >= 0)) {
    throw new Stop('Give two numbers: npm run storm -- 1000 50')
  }
  ensureDebian()
  await ensurePackages(root)
  ensureBuild(root)
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'tsumiki-storm-'))
  fs.chmodSync(folder, 0o755)
  const storm = { folder, cluster: await startPostgres({ root: folder }), web: [], isOver: false }
  try {
    for (const index of [0, 1]) {
      storm.web[index] = { port: await freePort(), server: null }
      await serve(storm, index)
    }
    await rage(storm, servers, databases)
  } finally {
    storm.isOver = true
    await Promise.all(storm.web.map(({ server }) => server?.stop()))
    await storm.cluster.stop()
    fs.rmSync(folder, { recursive: true, force: true })
  }
}

async function serve({ cluster, web }, index) {
  web[index].server = await startServer({
    root,
    port: web[index].port,
    ...cluster.urls('storm'),
    sessionPassword: 'a throw-away password of the storm',
    begin: 'demo',
    stdio: ['ignore', 'ignore', 'ignore'],
  })
}

async function rage(storm, servers, databases) {
  const begun = performance.now()
  const recorded = new Map()
  const tries = { sent: 0, unanswered: 0 }
  const cookie = await signIn(storm)
  const goods = await findGoods(storm, cookie)
  const clients = Array.from({ length: CLIENTS }, (_, lane) => record({ storm, cookie, goods, recorded, tries, lane }))
  const every = databases === 0 ? Infinity : Math.max(1, Math.floor(servers / databases))
  for (let kills = 1; kills <= servers; kills++) {
    await killServer(storm, kills % 2)
    if (kills % every === 0 && kills / every <= databases) {
      await killDatabase(storm)
    }
    if (kills % 100 === 0) {
      say(`${kills} servers killed, ${recorded.size} postings acknowledged`)
    }
  }
  storm.isOver = true
  await Promise.all(clients)
  const minutes = ((performance.now() - begun) / 60_000).toFixed(1)
  say(
    `${servers} servers and ${databases} databases killed in ${minutes} min; ${recorded.size} postings acknowledged, ${tries.unanswered} of ${tries.sent} requests without an answer`,
  )
  await verify(storm, recorded)
}

/** The next server lives for a moment, is killed, and is started again while the other one answers. */
async function killServer(storm, index) {
  await pause(randomInt(20, LIVES))
  const { server } = storm.web[index]
  process.kill(server.child.pid, 'SIGKILL')
  while (server.child.exitCode === null && server.child.signalCode === null) {
    await pause(5)
  }
  await serve(storm, index)
}

async function killDatabase(storm) {
  const { pid, port } = storm.cluster
  process.kill(pid, 'SIGKILL')
  while (isAlive(pid)) {
    await pause(5)
  }
  for (;;) {
    try {
      storm.cluster = await startPostgres({ root: storm.folder, port })
      return
    } catch {
      // What the dead one leaves behind goes away by itself; until then it cannot start.
      await pause(200)
    }
  }
}

async function signIn(storm) {
  const answer = await ask(storm, 0, 'company/sign-in', { body: SIGN_IN })
  return answer.headers.get('set-cookie').split(';')[0]
}

function ask({ web }, index, address, { cookie, body } = {}) {
  return fetch(`http://127.0.0.1:${web[index].port}/api/${address}`, {
    method: body ? 'POST' : 'GET',
    headers: { ...(body ? { 'content-type': 'application/json' } : {}), ...(cookie ? { cookie } : {}) },
    ...(body ? { body: JSON.stringify(body) } : {}),
    signal: AbortSignal.timeout(30_000),
  })
}

async function findGoods(storm, cookie) {
  const { bins } = await (await ask(storm, 0, 'catalogue/references', { cookie })).json()
  const { rows } = await (await ask(storm, 0, 'catalogue/items?size=500', { cookie })).json()
  return {
    binId: bins.find(({ code }) => code === 'SHELF-A').id,
    items: ITEMS.map((code) => rows.find((row) => row.code === code).id),
  }
}

/** One client: an act after the other, each sent again, to either server, until it is answered. */
async function record({ storm, cookie, goods, recorded, tries, lane }) {
  for (let count = 0; !storm.isOver; count++) {
    const isLess = count % 3 === 0
    const body = {
      key: randomUUID(),
      itemId: goods.items[(lane + count) % goods.items.length],
      binId: goods.binId,
      lot: '',
      direction: isLess ? 'less' : 'more',
      quantity: String(1 + (count % 3)),
      unit: 'piece',
      reason: isLess ? 'sample' : 'found',
      unitCost: isLess ? '' : '1.37',
    }
    for (let attempt = 0; ; attempt++) {
      tries.sent++
      const answer = await ask(storm, (lane + attempt) % 2, 'stock/corrections', { cookie, body }).catch(() => null)
      const told = answer?.status === 200 ? await answer.json().catch(() => null) : null
      if (told) {
        recorded.set(body.key, told.postingId)
        break
      }
      tries.unanswered++
      if (answer && answer.status < 500 && answer.status !== 200) {
        break
      }
      await pause(50)
    }
  }
}

/** Nothing lost, nothing twice, nothing half; and every sum agrees with the moves. */
async function verify(storm, recorded) {
  Object.assign(process.env, { DATABASE_URL: storm.cluster.url('storm') })
  const { checkLedger } = await loadBundled(root, 'server/ledger/check/index.ts')
  const pg = (await import('pg')).default
  const client = new pg.Client({ connectionString: process.env.DATABASE_URL })
  await client.connect()
  const count = async (text, values = []) => Number((await client.query(text, values)).rows[0].count)
  const keys = [...recorded.keys()]
  const ids = keys.map((key) => recorded.get(key))
  const found = {
    lost: await count(
      `select count(*) from unnest($1::uuid[], $2::int[]) as told(key, id)
       where not exists (select from answers a join postings p on p.id = told.id
                         where a.key = told.key and (a.answer ->> 'postingId')::int = told.id)`,
      [keys, ids],
    ),
    twice: new Set(ids).size === ids.length ? 0 : ids.length - new Set(ids).size,
    more: (await count(`select count(*) from postings where kind = 'correction'`)) - ids.length,
    half: await count(
      `select count(*) from postings p where kind = 'correction' and not exists (select from moves m where m.posting_id = p.id)`,
    ),
    unbalanced: await count(
      'select count(*) from (select posting_id from journal group by 1 having sum(amount) <> 0) wrong',
    ),
    differing: (await checkLedger()).length,
  }
  await client.end()
  say(
    Object.entries(found)
      .map(([what, value]) => `${what} ${value}`)
      .join(', '),
  )
  if (Object.values(found).some((value) => value !== 0)) {
    throw new Stop('The storm has left something wrong.')
  }
}
