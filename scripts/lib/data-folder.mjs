import { randomBytes } from 'node:crypto'
import fs from 'node:fs'
import path from 'node:path'
import { isAlive, pause } from './run.mjs'
import { say, Stop } from './say.mjs'

/** Where everything is kept: the folder of the setting DATA_DIR, else `.data` in the project's. */
export const dataFolder = (root) => process.env.DATA_DIR ?? path.join(root, '.data')

/** That folder, made at first. */
export function makeDataFolder(root) {
  const folder = dataFolder(root)
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

/** The company that a command asks for by a word of its own; undefined where it asks for none. */
export function askedCompany(words) {
  if (words.includes('--demo')) {
    return 'demo'
  }
  return words.includes('--own') || words.includes('--empty') ? 'own' : undefined
}

/** The database of each company of a folder. */
export const DATABASES = { demo: 'tsumiki', own: 'tsumiki_own' }

/**
 * Which company is served: that which is asked for, else the own one where one was begun, else the demo.
 */
export function chooseCompany(data, asked, hasDatabase) {
  const file = path.join(data, 'company')
  if (asked !== undefined) {
    return asked
  }
  if (!fs.existsSync(file)) {
    return hasDatabase(DATABASES.own) ? 'own' : 'demo'
  }
  const kept = fs.readFileSync(file, 'utf8').trim()
  if (kept !== 'own') {
    throw new Stop(
      `The file ${file} says “${kept}”, which is no company. Write “own” into it for your own company, or remove it and start with -- --own. Nothing was changed.`,
    )
  }
  return 'own'
}

/** From now on the own company is served where none is asked for. */
export const rememberOwn = (data) => fs.writeFileSync(path.join(data, 'company'), 'own\n')

/** The key by which cookies are sealed, made at first. */
export function sessionPassword(data) {
  const file = path.join(data, 'session-password')
  if (!fs.existsSync(file)) {
    fs.writeFileSync(file, randomBytes(32).toString('base64url'), { mode: 0o600 })
  }
  const key = fs.readFileSync(file, 'utf8').trim()
  if (key.length < 32) {
    throw new Stop(
      `The file ${file}, by which cookies are sealed, is damaged or empty. Remove it: a new one is made, and everybody signs in again.`,
    )
  }
  return key
}

const runningFile = (data) => path.join(data, 'running')

/** Notes what runs from this folder, for a later start. */
export const noteRunning = (data, serverPid, url) =>
  fs.writeFileSync(runningFile(data), `${process.pid} ${serverPid} ${url}`)
export const noteStopped = (data) => fs.rmSync(runningFile(data), { force: true })

/** Stops where another start of this folder is alive; ends what a killed one has left running. From now on it is ours. */
export async function takeOver(data) {
  await endLeftovers(data)
  try {
    fs.writeFileSync(runningFile(data), `${process.pid} 0 `, { flag: 'wx' })
  } catch {
    throw new Stop('Tsumiki is being started from this folder already. This second start serves nothing.')
  }
}

async function endLeftovers(data) {
  if (!fs.existsSync(runningFile(data))) {
    return
  }
  const [starter, server, url] = fs.readFileSync(runningFile(data), 'utf8').split(' ')
  if (isRunning(Number(starter), 'start.mjs')) {
    throw new Stop(
      `Tsumiki runs already${url ? `, at ${url}` : ''}: it was started from this folder (process ${starter}). This second start serves nothing; stop the first, or open its address.`,
    )
  }
  if (isRunning(Number(server), '.output/server')) {
    say('Ending the server that an earlier start left behind')
    process.kill(Number(server), 'SIGKILL')
    for (let waited = 0; isAlive(Number(server)) && waited < 3000; waited += 25) {
      await pause(25)
    }
  }
  noteStopped(data)
}

const isRunning = (pid, part) =>
  isAlive(pid) &&
  fs.existsSync(`/proc/${pid}/cmdline`) &&
  fs.readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(part)
