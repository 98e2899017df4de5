import { spawnSync } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import { fileURLToPath } from 'node:url'
import { DATABASES, makeDataFolder } from './lib/data-folder.mjs'
import { ensureDebian, ensurePackages } from './lib/packages.mjs'
import { startPostgres, versionsHere } from './lib/postgres.mjs'
import { orStop, say, Stop } from './lib/say.mjs'
import { readSettings } from './lib/settings.mjs'

const root = fileURLToPath(new URL('..', import.meta.url))

await orStop(main())

/**
 * `npm run upgrade-database [-- --again]`: moves the databases of this folder to the newest PostgreSQL that is installed.
 * `--again` makes them anew in the same version. The old cluster is kept beside the new one; where anything fails it is
 * put back.
 */
async function main() {
  if (readSettings(root).DATABASE_URL) {
    throw new Stop('DATABASE_URL names a database of yours: bring its PostgreSQL up to date by its own means.')
  }
  ensureDebian()
  await ensurePackages(root)
  makeDataFolder(root)
  const old = await startPostgres({ root })
  if (old.joined) {
    throw new Stop('The database is running. Stop Tsumiki first, then start this again. Nothing was changed.')
  }
  const [newest] = versionsHere()
  const version = fs.readFileSync(path.join(old.dir, 'cluster/PG_VERSION'), 'utf8').trim()
  const databases = Object.values(DATABASES).filter(old.has)
  if (databases.length === 0 || (version === newest && !process.argv.includes('--again'))) {
    await old.stop()
    say(
      databases.length === 0 ? 'There is no database here yet' : `It is PostgreSQL ${version} already, the newest here`,
    )
    return
  }
  const dumps = databases.map((database) => dump(old, database, newest))
  await old.stop()
  const kept = `${old.dir}-${version}-${new Date().toISOString().slice(0, 19).replaceAll(/\D/g, '')}`
  fs.renameSync(old.dir, kept)
  await rebuild({ dumps, kept, dir: old.dir, newest })
}

/** Writes a database into a file, with the programs of the version that will read it, and counts its rows. */
function dump(cluster, database, newest) {
  const file = path.join(makeDataFolder(root), `${database}.dump`)
  program(newest, 'pg_dump', ['--format=custom', '--no-owner', `--file=${file}`, cluster.url(database)])
  return { database, file, rows: countRows(cluster, database, newest) }
}

async function rebuild({ dumps, kept, dir, newest }) {
  let cluster = null
  try {
    cluster = await startPostgres({ root })
    for (const { database, file, rows } of dumps) {
      const { ownerUrl } = cluster.urls(database)
      const words = ['--no-owner', '--exit-on-error', '--single-transaction', `--dbname=${ownerUrl}`]
      program(newest, 'pg_restore', [...words, file])
      if (countRows(cluster, database, newest) !== rows) {
        throw new Stop(`${database} came over with another number of rows.`)
      }
      say(`${database} is in PostgreSQL ${newest}`)
    }
    await cluster.stop()
  } catch (error) {
    await cluster?.stop()
    fs.rmSync(dir, { recursive: true, force: true })
    fs.renameSync(kept, dir)
    throw new Stop(`${error.message}\nThe database is as it was.`)
  } finally {
    dumps.forEach(({ file }) => fs.rmSync(file, { force: true }))
  }
  say(`Done. The old one is kept in ${kept}; remove it once you have seen that all is there.`)
}

/** The rows of every table, as one text. */
function countRows(cluster, database, newest) {
  const counting = `
    select string_agg(
      format('%I.%I %s', table_schema, table_name,
        (xpath('/row/count/text()', query_to_xml(format('select count(*) from %I.%I', table_schema, table_name), false, true, '')))[1]),
      ', ' order by table_schema, table_name)
    from information_schema.tables
    where table_schema in ('public', 'drizzle') and table_type = 'BASE TABLE'`
  return program(newest, 'psql', [cluster.url(database), '-qAtc', counting])
}

/** Runs one of PostgreSQL's programs to its end; answers what it said. */
function program(version, name, words) {
  const done = spawnSync(`/usr/lib/postgresql/${version}/bin/${name}`, words, { encoding: 'utf8' })
  if (done.status !== 0) {
    throw new Stop(`${name} failed: ${done.error ?? ''}${done.stderr}`)
  }
  return done.stdout.trim()
}
