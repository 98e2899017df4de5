import { pool } from '~~/server/database/client'
import type { Backups } from '~~/shared/company/answers'
import { loadCompany } from '../company/company'
import { backUp, backupFolder, freeBytes, listBackups, thinBackups } from './back-up'

/** The hour of the night, by the clock of the server, from which on a backup of the day is made. */
const HOUR = 2
const OVERDUE_HOURS = 48
const LOCK = 7304

/**
 * The backup of the night: once a day, of a company of one's own; a demo is not backed up. Answers the file; null where
 * none was due.
 */
export async function dailyBackup(now: Date): Promise<string | null> {
  const company = await loadCompany()
  if (!company || company.fixedDay !== null || now.getHours() < HOUR) {
    return null
  }
  const client = await pool.connect()
  try {
    const { rows } = await client.query<{ mine: boolean }>('select pg_try_advisory_lock($1) as mine', [LOCK])
    const today = dayOf(now)
    const [newest] = await listBackups()
    if (!rows[0]!.mine || (newest && dayOf(new Date(newest.madeAt)) === today)) {
      return null
    }
    const { file } = await backUp()
    await thinBackups(today)
    return file
  } finally {
    client.release(true)
  }
}

/** When something was first changed here; null where nothing was. */
async function firstChange(): Promise<string | null> {
  const { rows } = await pool.query<{ first: Date | null }>('select min(at) as first from changes')
  return rows[0]!.first?.toISOString() ?? null
}

/** The day by the clock of the server. */
const dayOf = (moment: Date): string => {
  const two = (part: number): string => String(part).padStart(2, '0')
  return `${moment.getFullYear()}-${two(moment.getMonth() + 1)}-${two(moment.getDate())}`
}

/** The backups as the owner sees them. */
export async function readBackups(now = new Date()): Promise<Backups> {
  const company = await loadCompany()
  const found = await listBackups()
  // Before there is a first one, it is missed from two days after the first change on.
  const since = found[0]?.madeAt ?? (await firstChange())
  const age = since === null ? 0 : now.getTime() - Date.parse(since)
  return {
    folder: backupFolder(),
    rows: found,
    freeBytes: await freeBytes(),
    isOverdue: company?.fixedDay === null && age > OVERDUE_HOURS * 3_600_000,
  }
}
