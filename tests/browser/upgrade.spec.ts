import { spawn, spawnSync } from 'node:child_process'
import { mkdirSync, readdirSync } from 'node:fs'
import path from 'node:path'
import { setTimeout as pause } from 'node:timers/promises'
import { expect, test } from '@playwright/test'
import pg from 'pg'
import { ownFolder, scripts } from './own-server'

/**
 * The demo as an earlier Tsumiki kept it, with a working day’s orders, receipts, builds and shipments in it, written by
 * PostgreSQL’s own dump.
 */
const EARLIER = 'tests/fixtures/earlier-demo.dump'
const KILLS = 3
/** Without the daily work, which would add rows of its own. */
const ONLY_WEB = { ROLE: 'web' }

test('a database of an earlier Tsumiki is brought up to date, though the server is killed three times meanwhile', async () => {
  test.setTimeout(180_000)
  const { startPostgres, startServer, freePort } = await scripts()
  const { folder, clear } = ownFolder('upgrade')
  const cluster = await startPostgres({ root: folder })
  const backups = path.join(folder, 'backups')
  mkdirSync(backups)
  const settings = {
    sessionPassword: 'a throw-away password of the upgrade',
    begin: 'empty',
    stdio: 'ignore',
    root: process.cwd(),
  }
  try {
    const urls = cluster.urls('earlier')
    run(cluster.bin, 'pg_restore', [
      '--no-owner',
      '--no-privileges',
      `--dbname=${urls.ownerUrl}`,
      path.resolve(EARLIER),
    ])
    // A company of one's own: it stands on today, and is backed up before its tables are changed.
    await ask(cluster.url('earlier'), 'update company set fixed_day = null')
    const before = await contents(cluster.url('earlier'))
    const [done] = await ask<{ count: number }>(cluster.url('earlier'), COUNT)

    for (let kill = 1; kill <= KILLS; kill++) {
      await killAfter(done!.count + kill, cluster.url('earlier'), {
        DATABASE_URL: urls.databaseUrl,
        DATABASE_OWNER_URL: urls.ownerUrl,
        PORT: String(await freePort()),
        BACKUP_DIR: backups,
      })
    }
    const server = await startServer({
      ...settings,
      ...urls,
      port: await freePort(),
      env: { BACKUP_DIR: backups, ...ONLY_WEB },
    })
    await server.stop()
    const fresh = await startServer({ ...settings, ...cluster.urls('fresh'), port: await freePort(), env: ONLY_WEB })
    await fresh.stop()

    // Nothing is lost, the ledger agrees, and the tables are those of a database that was begun today.
    // The one place that later versions add is there; without it all is as it was.
    const added = `delete from places where code = 'outside:returned' returning kind`
    expect(await ask<{ kind: string }>(cluster.url('earlier'), added)).toEqual([{ kind: 'returned' }])
    const after = await contents(cluster.url('earlier'))
    expect(Object.keys(before).filter((name) => name in after && after[name] !== before[name])).toEqual([])
    expect(Object.keys(before).filter((name) => !(name in after))).toEqual(['plan_runs'])
    expect(run(process.execPath, 'scripts/check-ledger.mjs', [], { DATABASE_URL: cluster.url('earlier') })).toContain(
      'nothing differs',
    )
    const tables = (name: string): string =>
      run(cluster.bin, 'pg_dump', ['--schema-only', '--exclude-schema=jobs', `--dbname=${cluster.url(name)}`])
        .split('\n')
        .filter((line) => line !== '' && !/^(--|\\(un)?restrict|COMMENT ON SCHEMA public)/.test(line))
        .join('\n')
    expect(tables('earlier')).toBe(tables('fresh'))
    expect(readdirSync(backups).filter((name) => name.startsWith('before-update-')).length).toBeGreaterThan(0)
  } finally {
    await cluster.stop()
    clear()
  }
})

const COUNT = 'select count(*)::int as count from drizzle.__drizzle_migrations'

/** Starts the server, and kills it as soon as so many changes of the tables are done. */
async function killAfter(changes: number, url: string, env: Record<string, string>): Promise<void> {
  const child = spawn(process.execPath, ['.output/server/index.mjs'], {
    stdio: 'ignore',
    env: { ...process.env, NODE_ENV: 'production', HOST: '127.0.0.1', TSUMIKI_BEGIN: 'empty', ...ONLY_WEB, ...env },
  })
  const gone = new Promise((resolve) => child.once('exit', resolve))
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  let count = 0
  while (count < changes && child.exitCode === null) {
    count = (await client.query<{ count: number }>(COUNT)).rows[0]!.count
    await pause(2)
  }
  await client.end()
  child.kill('SIGKILL')
  await gone
  expect(count).toBeGreaterThanOrEqual(changes)
}

async function ask<Row extends object>(url: string, text: string): Promise<Row[]> {
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  try {
    return (await client.query<Row>(text)).rows
  } finally {
    await client.end()
  }
}

/** Rows of each table. */
async function contents(url: string): Promise<Record<string, number>> {
  const tables = await ask<{ name: string }>(url, `select tablename as name from pg_tables where schemaname = 'public'`)
  const counted: Record<string, number> = {}
  for (const { name } of tables) {
    counted[name] = (await ask<{ count: number }>(url, `select count(*)::int as count from "${name}"`))[0]!.count
  }
  return counted
}

function run(folder: string, program: string, words: readonly string[], env: Record<string, string> = {}): string {
  const [command, ...first] = program.endsWith('.mjs') ? [folder, program] : [path.join(folder, program)]
  const done = spawnSync(command!, [...first, ...words], { encoding: 'utf8', env: { ...process.env, ...env } })
  expect(done.stderr, done.stdout).not.toMatch(/error/i)
  return done.stdout
}
