import { createHash } from 'node:crypto'
import { mkdir, mkdtemp, open, readdir, rename, rm, stat, statfs, writeFile } from 'node:fs/promises'
import path from 'node:path'
import { asOwner, ownerUrl } from '~~/server/database/owner'
import type { BackupRow } from '~~/shared/company/answers'
import { countContents, digestOfFile, type Manifest } from './manifest'
import { backupsToDrop, dayOfBackup } from './kept'
import { run } from './programs'

/** Where backups are kept. */
export const backupFolder = (): string => process.env.BACKUP_DIR ?? path.resolve('.data/backups')

/** Files of backups are read by their owner only: they hold everything. */
const PRIVATE = 0o600

/**
 * Writes a backup of everything into one file, a tar archive with a manifest and PostgreSQL's own dump, while people
 * work: it holds one moment. Nothing has its name before it is whole and on the disk.
 *
 * `file` is where to, else a new name in the folder of backups. Answers the file and its bytes.
 */
export async function backUp(file = path.join(backupFolder(), backupName())): Promise<{ file: string; bytes: number }> {
  const folder = path.dirname(file)
  await mkdir(folder, { recursive: true, mode: 0o700 })
  const work = await mkdtemp(path.join(folder, '.unfinished-'))
  try {
    const manifest = await dump(path.join(work, 'database.dump'))
    await writeFile(path.join(work, 'manifest.json'), `${JSON.stringify(manifest, null, 2)}\n`, { mode: PRIVATE })
    const archive = path.join(work, 'backup.tar')
    await run('tar', ['--create', '--file', archive, '--directory', work, 'manifest.json', 'database.dump'])
    const handle = await open(archive, 'r+')
    await handle.chmod(PRIVATE)
    await handle.sync()
    await handle.close()
    await rename(archive, file)
    return { file, bytes: (await stat(file)).size }
  } finally {
    await rm(work, { recursive: true, force: true })
  }
}

/** `tsumiki-2026-10-05-020000.tar`, by the time of Greenwich. */
export const backupName = (): string =>
  `tsumiki-${new Date().toISOString().slice(0, 19).replace('T', '-').replaceAll(':', '')}.tar`

/**
 * Writes the database as it is in one moment, and says what it holds in that same moment. The moment ends with the
 * connection that holds it.
 */
const dump = (file: string): Promise<Manifest> =>
  asOwner(async (client) => {
    await client.query('begin isolation level repeatable read read only')
    const { rows } = await client.query<{ snapshot: string; company: string; tables: string; postgres: string }>(`
      select
        pg_export_snapshot() as snapshot, (select name from company) as company,
        (select max(created_at)::text from drizzle.__drizzle_migrations) as tables,
        current_setting('server_version') as postgres`)
    const { snapshot, company, tables, postgres } = rows[0]!
    const contents = await countContents(client)
    await run('pg_dump', [
      '--format=custom',
      '--no-owner',
      '--no-privileges',
      // What waits in the queue is asked for anew where it is restored; it may have been done since.
      '--exclude-schema=jobs',
      `--snapshot=${snapshot}`,
      `--file=${file}`,
      `--dbname=${ownerUrl()}`,
    ])
    return {
      format: 'tsumiki backup 1',
      madeAt: new Date().toISOString(),
      company: company ?? '',
      tables: Number(tables),
      postgres,
      keyFingerprint: createHash('sha256')
        .update(process.env.NUXT_SESSION_PASSWORD ?? '')
        .digest('hex')
        .slice(0, 12),
      database: { file: 'database.dump', ...(await digestOfFile(file)) },
      contents,
    }
  })

/** The backups that are there, the newest first. */
export async function listBackups(): Promise<BackupRow[]> {
  const folder = backupFolder()
  const names = await readdir(folder).catch(() => [])
  const ours = names.filter((name) => dayOfBackup(name) !== null)
  const found = await Promise.all(
    ours.map(async (name) => {
      const { size, mtime } = await stat(path.join(folder, name))
      return { id: name, madeAt: mtime.toISOString(), bytes: size }
    }),
  )
  return found.sort((a, b) => (a.madeAt < b.madeAt ? 1 : -1))
}

/** Takes away backups that are no longer kept on a day. */
export async function thinBackups(today: string): Promise<readonly string[]> {
  const folder = backupFolder()
  const dropped = backupsToDrop(await readdir(folder).catch(() => []), today)
  for (const name of dropped) {
    await rm(path.join(folder, name), { force: true })
  }
  return dropped
}

/** Bytes that are free where backups are kept. */
export async function freeBytes(): Promise<number> {
  await mkdir(backupFolder(), { recursive: true, mode: 0o700 })
  const { bavail, bsize } = await statfs(backupFolder())
  return bavail * bsize
}
