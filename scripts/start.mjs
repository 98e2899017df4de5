import { randomInt } from 'node:crypto'
import { networkInterfaces } from 'node:os'
import path from 'node:path'
import { fileURLToPath } from 'node:url'
import { ensureBuild } from './lib/build.mjs'
import {
  chooseCompany,
  DATABASES,
  makeDataFolder,
  noteRunning,
  noteStopped,
  rememberOwn,
  sessionPassword,
  takeOver,
} from './lib/data-folder.mjs'
import { ensureDebian, ensurePackages } from './lib/packages.mjs'
import { startPostgres } from './lib/postgres.mjs'
import { isPortFree } from './lib/run.mjs'
import { orStop, say, Stop } from './lib/say.mjs'
import { startServer } from './lib/server.mjs'
import { helpText, readSettings } from './lib/settings.mjs'
import { keepAlive } from './lib/supervise.mjs'

const root = fileURLToPath(new URL('..', import.meta.url))
const WORDS = { '--own': 'own', '--empty': 'own', '--demo': 'demo' }

await orStop(main())

async function main() {
  if (process.argv.includes('--help')) {
    process.stdout.write(helpText())
    return
  }
  requireNode()
  const settings = readSettings(root)
  const asked = askedCompany(settings)
  const data = makeDataFolder(root)
  process.env.LOG_DIR ??= path.join(data, 'logs')
  process.env.BACKUP_DIR ??= path.join(data, 'backups')
  const key = sessionPassword(data)
  await takeOver(data)
  ensureDebian({ postgres: !settings.DATABASE_URL })
  await ensurePackages(root)
  ensureBuild(root)
  const host = settings.HOST ?? '127.0.0.1'
  const port = await choosePort(settings.PORT)
  const running = { postgres: null, server: null, isStopping: false }
  const stop = stopper(running, data)
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) {
    process.on(signal, () => stop(0))
  }
  try {
    await run({ running, settings, asked, data, key, host, port, setUpCode: makeSetUpCode() })
  } catch (error) {
    process.stderr.write(`\n${error instanceof Stop ? error.message : error.stack}\n`)
    await stop(1)
  }
}

/** Starts everything, says where it is, and brings back what ends by itself. */
async function run(start) {
  const { running, settings, data, host, port } = start
  const serve = await prepare(start)
  const note = () => noteRunning(data, running.server.child.pid, addressOf(settings, host, port))
  await serve()
  note()
  await announce(start)
  watch(running, serve, note)
}

function requireNode() {
  const [major] = process.versions.node.split('.').map(Number)
  if (major < 20) {
    throw new Stop(`Tsumiki needs Node.js 20 or later; this is ${process.versions.node}.`)
  }
}

/** The company that is asked for, where one is. A database of yours is never filled with the demo. */
function askedCompany(settings) {
  const words = process.argv.slice(2)
  const unknown = words.find((word) => !(word in WORDS))
  if (unknown) {
    throw new Stop(`“${unknown}” is no word for npm start. npm start -- --help lists them.`)
  }
  const asked = WORDS[words.at(-1)]
  if (settings.DATABASE_URL && asked === 'demo') {
    throw new Stop('The demo is shown in a database of its own: leave DATABASE_URL away for it.')
  }
  return asked
}

/** Starts the database, where none is named, and says which company is served; answers what starts the server. */
async function prepare({ running, settings, asked, data, key, host, port, setUpCode }) {
  let company = 'own'
  let urls = { databaseUrl: settings.DATABASE_URL, ownerUrl: settings.DATABASE_OWNER_URL }
  if (!urls.databaseUrl) {
    say('Starting PostgreSQL')
    running.postgres = await startPostgres({ root })
    company = chooseCompany(data, asked, running.postgres.has)
    if (asked === 'own') {
      rememberOwn(data)
    }
    urls = running.postgres.urls(DATABASES[company])
  }
  const begin = company === 'demo' ? 'demo' : 'empty'
  say(begin === 'demo' ? 'Starting the server (the first time, the demo company is loaded)' : 'Starting the server')
  return async () => {
    running.server = await startServer({ root, host, port, ...urls, sessionPassword: key, begin, setUpCode })
  }
}

/** Brings back what ends by itself, until it is stopped. */
function watch(running, serve, note) {
  const isStopping = () => running.isStopping
  void keepAlive({
    name: 'The server',
    isStopping,
    pidOf: () => running.server.child.pid,
    start: async () => {
      await serve()
      note()
    },
  })
  if (running.postgres) {
    void keepAlive({
      name: 'PostgreSQL',
      isStopping,
      pidOf: () => running.postgres.pid,
      start: async () => {
        running.postgres = await startPostgres({ root, port: running.postgres.port })
      },
    })
  }
}

/** Ends what runs, once, however often it is asked to. */
function stopper(running, data) {
  let stopping = null
  const end = async (code) => {
    running.isStopping = true
    process.stdout.write('\n')
    say('Stopping')
    await running.server?.stop()
    await running.postgres?.stop()
    noteStopped(data)
    process.exit(code)
  }
  return (code) => (stopping ??= end(code))
}

function onThisMachine(host, port) {
  return `http://${host === '0.0.0.0' ? '127.0.0.1' : host}:${port}`
}

function addressOf(settings, host, port) {
  return settings.PUBLIC_URL ?? onThisMachine(host, port)
}

async function announce({ settings, host, port, setUpCode }) {
  const here = onThisMachine(host, port)
  if (settings.ROLE === 'worker') {
    say(`Ready: background work; how it is at ${here}/api/health/ready. Ctrl+C stops it.`)
    return
  }
  const { company, signIns } = await fetch(`${here}/api/company/session`).then((r) => r.json())
  say('Ready')
  process.stdout.write(`\n  Tsumiki is at  ${addressOf(settings, host, port)}\n`)
  if (host === '0.0.0.0') {
    for (const address of ownAddresses()) {
      process.stdout.write(`  Colleagues on this network open  http://${address}:${port}\n`)
    }
  }
  if (!company) {
    process.stdout.write(
      `  It is empty. Begin your company at  ${here}/begin#${setUpCode}\n  (or open it anywhere, and type the set-up code ${setUpCode}).\n`,
    )
  }
  for (const { email, password, role } of signIns) {
    process.stdout.write(`    ${role.padEnd(12)} ${email.padEnd(30)} ${password}\n`)
  }
  process.stdout.write('  Ctrl+C stops it.\n\n')
}

/** Ten letters and digits that are told apart when read aloud. */
function makeSetUpCode() {
  const letters = 'ABCDEFGHJKMNPQRSTUVWXYZ23456789'
  const code = Array.from({ length: 10 }, () => letters[randomInt(letters.length)]).join('')
  return `${code.slice(0, 5)}-${code.slice(5)}`
}

function ownAddresses() {
  return Object.values(networkInterfaces())
    .flat()
    .filter((entry) => entry.family === 'IPv4' && !entry.internal)
    .map((entry) => entry.address)
}

async function choosePort(asked) {
  if (asked !== undefined) {
    if (!(await isPortFree(Number(asked)))) {
      throw new Stop(
        `Port ${asked} is in use by another program. Choose another, for example PORT=${Number(asked) + 1} npm start.`,
      )
    }
    return Number(asked)
  }
  for (let port = 3000; port < 3020; port++) {
    if (await isPortFree(port)) {
      return port
    }
    say(`Port ${port} is in use; trying ${port + 1}`)
  }
  throw new Stop('The ports 3000 to 3019 are all in use. Choose one with PORT=… npm start.')
}
