import { readdirSync, readFileSync } from 'node:fs'
import path from 'node:path'
import type { ClientBase } from 'pg'
import { db, pool } from '~~/server/database/client'
import { bringUpToDate, missingMigrations } from '~~/server/database/bring-up-to-date'
import { asOwner, grantToApplication } from '~~/server/database/owner'
import { prepareQueue } from '~~/server/jobs/queue'
import { Refusal } from '~~/server/utils/refusal'
import { shippedFiles } from '~~/server/utils/shipped-files'
import { backUp, backupFolder, backupName } from '../backup/back-up'
import type { PictureFile } from '../catalogue/pictures'
import { loadCompany, today } from './company'
import { writeMissingLines } from '../workshop/build-lines'
import { importCompany } from './import-company'
import { log } from '~~/server/utils/log'

/**
 * Brings the database up to date, and loads the demo where it is wanted and nothing is there. Servers that start
 * together wait for each other.
 */
export async function prepareDatabase(begin: 'demo' | 'empty'): Promise<void> {
  const role = (await pool.query<{ name: string }>('select current_user as name')).rows[0]!.name
  await asOwner(async (client) => {
    await client.query('select pg_advisory_lock(7857)')
    await requireOwnDatabase(client)
    const missing = await missingMigrations(client)
    await backUpBefore(client, missing.length)
    await bringUpToDate(client, missing)
    await prepareQueue(client)
    await grantToApplication(client, role)
    if (await loadCompany()) {
      const day = await today()
      await db.transaction((tx) => writeMissingLines(tx, day))
    }
    if (begin === 'demo' && !(await loadCompany())) {
      await importCompany(readFolder(shippedFiles('demo')), readPictures(shippedFiles('demo')))
    }
  })
}

/** Writes a backup of a company of one's own before its tables are changed. Nothing is changed without one. */
async function backUpBefore(client: ClientBase, changes: number): Promise<void> {
  const { rows: there } = await client.query<{ has: boolean }>(`select to_regclass('company') is not null as has`)
  if (changes === 0 || !there[0]!.has) {
    return
  }
  const { rows: own } = await client.query('select 1 from company where fixed_day is null')
  if (own.length > 0) {
    const { file } = await backUp(path.join(backupFolder(), `before-update-${backupName()}`))
    log.info({ file }, 'backed up before the tables are brought up to date')
  }
}

/**
 * Refuses a database that a newer Tsumiki has changed, and one that holds something else: neither is touched.
 *
 * Errors: `not-now`.
 */
async function requireOwnDatabase(client: ClientBase): Promise<void> {
  const { rows: found } = await client.query<{ ours: boolean; other: string | null }>(`
    select
      to_regclass('drizzle.__drizzle_migrations') is not null as ours,
      (select tablename from pg_tables where schemaname = 'public' order by tablename limit 1) as other`)
  const { ours, other } = found[0]!
  if (!ours) {
    if (other !== null) {
      throw new Refusal(
        'not-now',
        `This database holds something else already (a table “${other}”). Give Tsumiki an empty database of its own.`,
      )
    }
    return
  }
  const journal = JSON.parse(readFileSync(path.join(shippedFiles('migrations'), 'meta/_journal.json'), 'utf8')) as {
    entries: { when: number }[]
  }
  const known = Math.max(...journal.entries.map((entry) => entry.when))
  const { rows: made } = await client.query<{ last: string | null }>(
    'select max(created_at)::text as last from drizzle.__drizzle_migrations',
  )
  if (Number(made[0]!.last ?? 0) > known) {
    throw new Refusal(
      'not-now',
      'This database was changed by a newer Tsumiki than this one. Start that one again, or restore a backup from before.',
    )
  }
}

export const readFolder = (folder: string): ReadonlyMap<string, string> =>
  new Map(
    readdirSync(folder)
      .filter((name) => name.includes('.'))
      .map((name) => [name, readFileSync(path.join(folder, name), 'utf8')]),
  )

const readPictures = (folder: string): PictureFile[] =>
  readdirSync(path.join(folder, 'pictures')).map((name) => ({
    name,
    content: readFileSync(path.join(folder, 'pictures', name)),
  }))

/** The sign-ins that a demo shows; none in a real company. */
export async function demoSignIns(): Promise<{ email: string; password: string; role: string; name: string }[]> {
  if (!(await loadCompany())?.fixedDay) {
    return []
  }
  const [, ...lines] = readFileSync(path.join(shippedFiles('demo'), 'people.csv'), 'utf8')
    .trim()
    .split('\n')
  return lines.map((line) => {
    const [email = '', name = '', role = '', password = ''] = line.split(',')
    return { email, name, role, password }
  })
}
