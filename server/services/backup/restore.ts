import { mkdtemp, readFile, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { pool } from '~~/server/database/client'
import { asOwner, ownerUrl } from '~~/server/database/owner'
import { checkLedger } from '~~/server/ledger/check'
import { Refusal } from '~~/server/utils/refusal'
import { prepareDatabase } from '../company/prepare'
import { countContents, digestOfFile, Manifest, newestTables } from './manifest'
import { run } from './programs'

/** What came back: what the backup said of itself, and what differs from that and in the books; nothing, if all is well. */
export interface Restored {
  readonly manifest: Manifest
  readonly differences: readonly string[]
}

/**
 * Brings a backup back into an empty database: all of it or nothing. Its checksum is looked at before, balances, values
 * and journal after. Everybody signs in again.
 *
 * Errors: `invalid-input` for what is no backup, is damaged, or of a newer Tsumiki; `not-now` where the database holds
 * something.
 */
export async function restore(file: string): Promise<Restored> {
  const work = await mkdtemp(path.join(tmpdir(), 'tsumiki-restore-'))
  try {
    const manifest = await unpack(file, work)
    await requireEmpty()
    await run('pg_restore', [
      '--no-owner',
      '--no-privileges',
      '--exit-on-error',
      '--single-transaction',
      `--dbname=${ownerUrl()}`,
      path.join(work, 'database.dump'),
    ])
    const contents = await asRestored()
    await prepareDatabase('empty')
    const differences = await checkLedger()
    return {
      manifest,
      differences: [
        ...Object.entries(manifest.contents)
          .filter(([table, count]) => contents[table] !== count)
          .map(([table, count]) => `${table}: ${contents[table] ?? 0} rows, ${count} by the backup`),
        ...differences.map(({ kind, what, kept, worked }) => `${kind}, ${what}: ${kept} kept, ${worked} by the moves`),
      ],
    }
  } finally {
    await rm(work, { recursive: true, force: true })
  }
}

/** Counts what came back, and ends the sessions that were open in it. */
const asRestored = (): Promise<Record<string, number>> =>
  asOwner(async (client) => {
    const contents = await countContents(client)
    const { rows } = await client.query<{ has: boolean }>(`select to_regclass('sessions') is not null as has`)
    if (rows[0]!.has) {
      await client.query('update sessions set ended_at = now() where ended_at is null')
    }
    return contents
  })

async function unpack(file: string, work: string): Promise<Manifest> {
  await run('tar', ['--extract', '--file', file, '--directory', work, 'manifest.json', 'database.dump']).catch(() => {
    throw new Refusal('invalid-input', `${file} is no backup of Tsumiki, or is damaged: it cannot be unpacked.`)
  })
  const read = Manifest.safeParse(JSON.parse(await readFile(path.join(work, 'manifest.json'), 'utf8')))
  if (!read.success) {
    throw new Refusal('invalid-input', `${file} is no backup of Tsumiki: what it says of itself cannot be read.`)
  }
  const { sha256 } = await digestOfFile(path.join(work, 'database.dump'))
  if (sha256 !== read.data.database.sha256) {
    throw new Refusal('invalid-input', `${file} is damaged: its checksum is another. Take an earlier backup.`)
  }
  if (read.data.tables > newestTables()) {
    throw new Refusal('invalid-input', `${file} was made by a newer Tsumiki than this one. Restore it with that.`)
  }
  return read.data
}

async function requireEmpty(): Promise<void> {
  const { rows } = await pool.query<{ name: string }>(
    `select tablename as name from pg_tables where schemaname = 'public' limit 1`,
  )
  if (rows.length > 0) {
    throw new Refusal(
      'not-now',
      'The database holds a company already. Restore into a new folder, or give DATABASE_URL of an empty database. Nothing was changed.',
    )
  }
}
