import { randomBytes, randomInt } from 'node:crypto'
import fs from 'node:fs'
import { isIP } from 'node:net'
import { networkInterfaces } from 'node:os'
import path from 'node:path'
import { fileURLToPath } from 'node:url'
import { ensureBuild } from './lib/build.mjs'
import { ensureDebian, ensurePackages } from './lib/packages.mjs'
import { startPostgres } from './lib/postgres.mjs'
import { isAlive, isPortFree, pause } from './lib/run.mjs'
import { orStop, say, Stop } from './lib/say.mjs'
import { startServer } from './lib/server.mjs'

const root = fileURLToPath(new URL('..', import.meta.url))
const begin = process.argv.includes('--empty') ? 'empty' : 'demo'
const setUpCode = makeSetUpCode()

await orStop(main())

async function main() {
  requireNode()
  ensureDebian({ postgres: !process.env.DATABASE_URL })
  await ensurePackages(root)
  ensureBuild(root)
  const data = makeDataFolder()
  const isAlone = await takeOver(data)
  const host = chooseHost()
  const port = await choosePort()
  const running = { postgres: null, server: null }
  const stop = stopper(running, data, isAlone)
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) {
    process.on(signal, () => stop(0))
  }
  try {
    await launch(running, data, host, port)
  } catch (error) {
    if (error instanceof Stop) {
      process.stderr.write(`\n${error.message}\n`)
    } else {
      console.error(error)
    }
    await stop(1)
  }
  running.server.child.once('exit', () => stop(1))
  if (isAlone) {
    fs.writeFileSync(path.join(data, 'running'), `${process.pid} ${running.server.child.pid}`)
  }
  await announce(host, port)
}

function requireNode() {
  const [major] = process.versions.node.split('.').map(Number)
  if (major < 20) {
    throw new Stop(`Tsumiki needs Node.js 20 or later; this is ${process.versions.node}.`)
  }
}

/** Starts the database, where none is named, and the server; what runs is in `running` as soon as it does. */
async function launch(running, data, host, port) {
  if (!process.env.DATABASE_URL) {
    say('Starting PostgreSQL')
    running.postgres = await startPostgres({ root })
  }
  say(begin === 'demo' ? 'Starting the server (the first time, the demo company is loaded)' : 'Starting the server')
  const databaseUrl = process.env.DATABASE_URL ?? running.postgres.url(begin === 'demo' ? 'tsumiki' : 'tsumiki_own')
  running.server = await startServer({
    root,
    host,
    port,
    databaseUrl,
    sessionPassword: sessionPassword(data),
    begin,
    setUpCode,
  })
}

/** Ends what runs, once, however often it is asked to. */
function stopper(running, data, isAlone) {
  let stopping = null
  const end = async (code) => {
    process.stdout.write('\n')
    say('Stopping')
    await running.server?.stop()
    if (isAlone) {
      await running.postgres?.stop()
      fs.rmSync(path.join(data, 'running'), { force: true })
    }
    process.exit(code)
  }
  return (code) => (stopping ??= end(code))
}

async function announce(host, port) {
  const here = `http://${host === '0.0.0.0' ? '127.0.0.1' : host}:${port}`
  const { company, signIns } = await fetch(`${here}/api/company/session`).then((r) => r.json())
  say('Ready')
  process.stdout.write(`\n  Tsumiki is at  ${process.env.PUBLIC_URL ?? here}\n`)
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

/** Where it listens: on this machine alone, unless HOST lets others in. */
function chooseHost() {
  const host = process.env.HOST ?? '127.0.0.1'
  if (!isIP(host)) {
    throw new Stop(`HOST is “${host}”; it must be an address of this machine, or 0.0.0.0 for all of them.`)
  }
  const { PUBLIC_URL } = process.env
  if (PUBLIC_URL !== undefined && !/^https?:\/\/[^/\s]+\/?$/.test(PUBLIC_URL)) {
    throw new Stop(
      `PUBLIC_URL is “${PUBLIC_URL}”; it must be the address that people type, such as https://stock.example.`,
    )
  }
  return host
}

const ownAddresses = () =>
  Object.values(networkInterfaces())
    .flat()
    .filter((entry) => entry.family === 'IPv4' && !entry.internal)
    .map((entry) => entry.address)

function makeDataFolder() {
  const folder = path.join(root, '.data')
  try {
    fs.mkdirSync(folder, { recursive: true })
    fs.accessSync(folder, fs.constants.W_OK)
  } catch {
    throw new Stop(
      `This user cannot write in ${folder}. Start Tsumiki as the user who first started it, or use a copy of the project of your own.`,
    )
  }
  return folder
}

/**
 * Ends what a killed start has left running. False where another start of this folder is alive: then its database is
 * shared, not stopped.
 */
async function takeOver(data) {
  const file = path.join(data, 'running')
  if (!fs.existsSync(file)) {
    return true
  }
  const [starter, server] = fs.readFileSync(file, 'utf8').split(' ').map(Number)
  const isOurs = (pid, part) =>
    isAlive(pid) &&
    fs.existsSync(`/proc/${pid}/cmdline`) &&
    fs.readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(part)
  if (isOurs(starter, 'start.mjs')) {
    return false
  }
  if (isOurs(server, '.output/server')) {
    say('Ending the server that an earlier start left behind')
    process.kill(server, 'SIGKILL')
    for (let waited = 0; isAlive(server) && waited < 3000; waited += 25) {
      await pause(25)
    }
  }
  fs.rmSync(file, { force: true })
  return true
}

async function choosePort() {
  const asked = process.env.PORT
  if (asked !== undefined) {
    if (!/^\d+$/.test(asked) || Number(asked) < 1 || Number(asked) > 65535) {
      throw new Stop(`PORT is “${asked}”; it must be a number from 1 to 65535.`)
    }
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

function sessionPassword(data) {
  const file = path.join(data, 'session-password')
  if (!fs.existsSync(file)) {
    fs.writeFileSync(file, randomBytes(32).toString('base64url'), { mode: 0o600 })
  }
  return fs.readFileSync(file, 'utf8')
}
