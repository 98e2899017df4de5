import { spawn, type ChildProcess } from 'node:child_process'
import {
  chmodSync,
  chownSync,
  cpSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { expect, test } from '@playwright/test'
import pg from 'pg'
import { scripts } from './own-server'

/*
 * `npm start` as a firm has it under a desk: what ends comes back, a second start does no harm, what is damaged stops
 * the start and is left as it is, and one's own company is never replaced by the demo.
 */
const COPIED = ['scripts', 'package.json', 'package-lock.json']
const SHARED = ['node_modules', '.output', 'app', 'server', 'shared', 'core', 'demo', 'public', 'nuxt.config.ts']

/** A copy of the project that has a data folder of its own. */
function makeProject(): string {
  const folder = mkdtempSync(path.join(tmpdir(), 'tsumiki-start-'))
  chmodSync(folder, 0o755)
  for (const name of COPIED) {
    cpSync(name, path.join(folder, name), { recursive: true })
  }
  for (const name of SHARED) {
    symlinkSync(path.resolve(name), path.join(folder, name))
  }
  return folder
}

interface Start {
  readonly child: ChildProcess
  readonly said: () => string
  /** Resolves with the exit code, once all that was said has arrived. */
  readonly ended: Promise<number | null>
}
function start(folder: string, port: number, words: readonly string[] = [], env: Record<string, string> = {}): Start {
  const { DATABASE_URL: _, BACKUP_DIR: __, ...rest } = process.env
  void [_, __]
  const child = spawn(process.execPath, ['scripts/start.mjs', ...words], {
    cwd: folder,
    env: { ...rest, HOST: '127.0.0.1', PORT: String(port), ...env },
    stdio: ['ignore', 'pipe', 'pipe'],
  })
  let text = ''
  const keep = (chunk: Buffer): void => {
    text += String(chunk)
  }
  child.stdout.on('data', keep)
  child.stderr.on('data', keep)
  return { child, said: () => text, ended: new Promise((resolve) => child.once('close', resolve)) }
}
const isUp = async ({ said }: Start): Promise<void> => {
  await expect.poll(said, { timeout: 90_000 }).toContain('Ctrl+C stops it.')
}
async function stop({ child, ended }: Start): Promise<void> {
  child.kill('SIGTERM')
  await ended
}
const isReady = (port: number) =>
  fetch(`http://127.0.0.1:${port}/api/health/ready`).then(
    (answer) => answer.status,
    () => 0,
  )
const companyAt = async (port: number): Promise<string | null> => {
  const answer = await fetch(`http://127.0.0.1:${port}/api/company/session`)
  return ((await answer.json()) as { company: { name: string } | null }).company?.name ?? null
}

test.describe.configure({ mode: 'serial' })

let folder: string
let port: number
test.beforeAll(async () => {
  test.setTimeout(300_000)
  // What is shared with the copy has to be there: a start that finds it missing would install and build it anew.
  const { ensurePackages, ensureBuild } = await scripts()
  await ensurePackages(process.cwd())
  ensureBuild(process.cwd())
  folder = makeProject()
  port = await (await scripts()).freePort()
})
test.afterAll(() => {
  rmSync(folder, { recursive: true, force: true })
})
const inData = (...names: string[]): string => path.join(folder, '.data', ...names)
const pidOfDatabase = (): number =>
  Number(readFileSync(inData('postgres', 'cluster', 'postmaster.pid'), 'utf8').split('\n')[0])

test('what ends by itself comes back, and a second start serves nothing', async () => {
  test.setTimeout(180_000)
  const first = start(folder, port)
  await isUp(first)
  expect(await companyAt(port)).toBe('Hollowmere Bindery')

  const second = start(folder, port + 1)
  expect(await second.ended).toBe(1)
  expect(second.said()).toContain(`Tsumiki runs already, at http://127.0.0.1:${port}`)

  process.kill(pidOfDatabase(), 'SIGKILL')
  await expect.poll(() => isReady(port), { intervals: [50] }).toBe(503)
  await expect.poll(() => isReady(port), { timeout: 30_000 }).toBe(200)
  expect(await companyAt(port)).toBe('Hollowmere Bindery')

  process.kill(Number(readFileSync(inData('running'), 'utf8').split(' ')[1]), 'SIGKILL')
  await expect.poll(() => isReady(port), { intervals: [50] }).toBe(0)
  await expect.poll(() => isReady(port), { timeout: 30_000 }).toBe(200)
  // Whoever looks after them notices a moment after others do; it is not stopped before it has said so.
  await expect.poll(first.said).toContain('PostgreSQL runs again')
  await expect.poll(first.said).toContain('The server runs again')
  await stop(first)
})

test('what is damaged, or belongs to somebody else, stops the start with its path, and stays as it is', async () => {
  test.setTimeout(180_000)
  const refused = async (env: Record<string, string> = {}): Promise<string> => {
    const tried = start(folder, port, [], env)
    expect(await tried.ended).toBe(1)
    return tried.said()
  }
  const damaged = async (file: string, content: string): Promise<string> => {
    const whole = readFileSync(file)
    writeFileSync(file, content)
    const said = await refused()
    expect(readFileSync(file, 'utf8')).toBe(content)
    writeFileSync(file, whole)
    return said
  }
  const key = inData('session-password')
  expect(await damaged(key, '')).toContain(`The file ${key}, by which cookies are sealed, is damaged or empty.`)
  const secret = inData('postgres', 'password')
  expect(await damaged(secret, '')).toContain(
    `The file ${secret}, which holds the password of the database, is damaged`,
  )
  const version = inData('postgres', 'cluster', 'PG_VERSION')
  expect(await damaged(version, '99\n')).toContain('was made by PostgreSQL 99')
  writeFileSync(inData('company'), 'ours?')
  expect(await refused()).toContain('says “ours?”, which is no company.')
  rmSync(inData('company'))
  const isRoot = process.getuid?.() === 0
  if (isRoot) {
    const cluster = inData('postgres', 'cluster')
    const { statSync } = await import('node:fs')
    const { uid, gid } = statSync(cluster)
    chownSync(cluster, 12_345, 12_345)
    expect(await refused()).toContain(`The database in ${cluster} belongs to another user (uid 12345).`)
    chownSync(cluster, uid, gid)
  }
  expect(await refused({ HOST: 'everywhere' })).toContain('HOST is “everywhere”; it must be an address')
  expect(await refused({ PUBLIC_URL: 'stock' })).toContain('PUBLIC_URL is “stock”; it must be an address')
  writeFileSync(path.join(folder, 'tsumiki.env'), '# ours\nPROT=3000\n')
  expect(await refused()).toContain('tsumiki.env: there is no setting PROT.')
  rmSync(path.join(folder, 'tsumiki.env'))
})

test('an own company is begun by its code, and served from then on; the demo only when asked for', async () => {
  test.setTimeout(180_000)
  const own = start(folder, port, ['--own'])
  await isUp(own)
  const [, code] = /\/begin#(\S+)/.exec(own.said())!
  const begin = (setUpCode: string): Promise<Response> =>
    fetch(`http://127.0.0.1:${port}/api/company/first-owner`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({
        setUpCode,
        company: 'Little Press',
        name: 'Asa Moor',
        email: 'asa@press.example',
        password: 'letters and ink at noon',
      }),
    })
  expect((await begin('ABCDE-FGHJK')).status).toBe(400)
  expect((await begin(code!)).status).toBe(200)
  await stop(own)

  const plain = start(folder, port)
  await isUp(plain)
  expect([await companyAt(port), plain.said().includes('boards-and-thread')]).toEqual(['Little Press', false])
  await stop(plain)
  const demo = start(folder, port, ['--demo'])
  await isUp(demo)
  expect(await companyAt(port)).toBe('Hollowmere Bindery')
  await stop(demo)
})

test('yesterday’s backup comes back in a new folder, by the two commands of the guide', async () => {
  test.setTimeout(180_000)
  const command = (where: string, name: string, ...words: string[]): Promise<string> =>
    new Promise((resolve) => {
      const { DATABASE_URL: _, BACKUP_DIR: __, ...env } = process.env
      void [_, __]
      const child = spawn(process.execPath, [`scripts/${name}.mjs`, ...words], { cwd: where, env })
      let said = ''
      const keep = (chunk: Buffer): void => {
        said += String(chunk)
      }
      child.stdout.on('data', keep)
      child.stderr.on('data', keep)
      child.once('close', () => resolve(said))
    })
  const said = await command(folder, 'backup')
  const [, file] = / {2}(\S+tsumiki-[\d-]+\.tar): \d/.exec(said)!
  expect(file).toContain(inData('backups'))
  // Where a company is already, nothing is brought back over it.
  expect(await command(folder, 'restore', file!)).toContain('The database holds a company already.')

  const moved = makeProject()
  try {
    // What is no backup leaves nothing behind that would be served in place of the demo.
    const none = path.join(moved, 'none.tar')
    writeFileSync(none, 'no archive')
    expect(await command(moved, 'restore', none)).toContain('is no backup of Tsumiki')
    const { startPostgres } = await scripts()
    const cluster = await startPostgres({ root: moved })
    expect(cluster.has('tsumiki_own')).toBe(false)
    await cluster.stop()
    const restored = await command(moved, 'restore', file!)
    expect(restored).toContain('Little Press as of')
    expect(restored).toContain('Checksum, rows, quantities, values and journal agree.')
    const there = start(moved, port)
    await isUp(there)
    expect(await companyAt(port)).toBe('Little Press')
    await stop(there)
    const link = await command(moved, 'reset-password', 'asa@press.example')
    expect(link).toMatch(/\/password#[\w-]{43}/)
    expect(await command(moved, 'reset-password', 'nobody@press.example')).toContain('Nobody has the address')
    expect(await command(moved, 'check-ledger')).toContain('nothing differs')

    // Only the newest PostgreSQL that Debian has is here: that everything is moved is seen by making it anew.
    expect(await command(moved, 'upgrade-database')).toContain('already, the newest here')
    const upgraded = await command(moved, 'upgrade-database', '--again')
    expect(upgraded).toContain('tsumiki_own is in PostgreSQL')
    expect(upgraded).toContain('The old one is kept in')
    expect(await command(moved, 'check-ledger')).toContain('nothing differs')
    const after = start(moved, port)
    await isUp(after)
    expect(await companyAt(port)).toBe('Little Press')
    expect(await command(moved, 'upgrade-database', '--again')).toContain('Stop Tsumiki first')
    await stop(after)
  } finally {
    rmSync(moved, { recursive: true, force: true })
  }
})

test('everything is kept where DATA_DIR says: the database, its key, backups and the log', async () => {
  test.setTimeout(180_000)
  const kept = mkdtempSync(path.join(tmpdir(), 'tsumiki-kept-'))
  chmodSync(kept, 0o755)
  try {
    const elsewhere = start(folder, port, ['--own'], { DATA_DIR: kept })
    await isUp(elsewhere)
    await fetch(`http://127.0.0.1:${port}/api/company/session`)
    await stop(elsewhere)
    expect(readdirSync(kept).sort()).toEqual(['company', 'logs', 'postgres', 'session-password'])
    // The log says what was asked, and how it ended.
    const lines = readFileSync(path.join(kept, 'logs/tsumiki-all.log'), 'utf8').trim().split('\n')
    expect(lines.map((line) => JSON.parse(line) as object)).toContainEqual(
      expect.objectContaining({ msg: 'request', method: 'GET', route: '/api/company/session', status: 200 }),
    )
    const wrong = start(folder, port, [], { DATA_DIR: 'kept here' })
    expect(await wrong.ended).toBe(1)
    expect(wrong.said()).toContain('DATA_DIR is “kept here”; it must be a whole path, such as /srv/tsumiki.')
  } finally {
    rmSync(kept, { recursive: true, force: true })
  }
})

test('a database of somebody’s own never gets the demo; one that holds something else, or is newer, is not touched', async () => {
  test.setTimeout(180_000)
  const { startPostgres } = await scripts()
  const cluster = await startPostgres({ root: folder })
  const run = async (database: string, text: string): Promise<void> => {
    const client = new pg.Client({ connectionString: cluster.url(database) })
    await client.connect()
    await client.query(text)
    await client.end()
  }
  try {
    const empty = start(folder, port, [], { DATABASE_URL: cluster.url('ours') })
    await isUp(empty)
    expect([await companyAt(port), empty.said().includes('boards-and-thread')]).toEqual([null, false])
    await stop(empty)
    const demo = start(folder, port, ['--demo'], { DATABASE_URL: cluster.url('ours') })
    expect(await demo.ended).toBe(1)
    expect(demo.said()).toContain('leave DATABASE_URL away')

    await run('other', 'create table ledger_of_another (id int)')
    const other = start(folder, port, [], { DATABASE_URL: cluster.url('other') })
    expect(await other.ended).toBe(1)
    expect(other.said()).toContain('This database holds something else already (a table “ledger_of_another”).')

    await run('ours', `insert into drizzle.__drizzle_migrations (hash, created_at) values ('later', 9999999999999)`)
    const older = start(folder, port, [], { DATABASE_URL: cluster.url('ours') })
    expect(await older.ended).toBe(1)
    expect(older.said()).toContain('This database was changed by a newer Tsumiki than this one.')
  } finally {
    await cluster.stop()
  }
})
