import { statfs } from 'node:fs/promises'
import { sql } from 'drizzle-orm'
import { db, rows } from '~~/server/database/client'
import type { Check } from '~~/shared/running/answers'
import { backupFolder } from '../backup/back-up'
import { readBackups } from '../backup/daily'

const GIGABYTE = 1e9
/** Bytes that should be free where the program and its backups write. */
const LEAST_FREE = 2 * GIGABYTE
/** Milliseconds by which the clocks of the program and of the database may differ. */
const CLOCKS_MAY_DIFFER = 5000
/** Minutes that work may wait before somebody should look whether any is done. */
const MOST_MINUTES = 15
/** Versions of PostgreSQL that this is tested with or that are newer. */
const LEAST_POSTGRES = 15
const LEDGER_DAYS = 14

const good = (name: string, said: string): Check => ({ name, state: 'good', said, remedy: '' })
const look = (name: string, said: string, remedy: string): Check => ({ name, state: 'look', said, remedy })
const bad = (name: string, said: string, remedy: string): Check => ({ name, state: 'bad', said, remedy })

/** Looks at everything that has to be in order for a firm to rely on it; each with a sentence, and with what to do. */
export async function examine(now = new Date()): Promise<Check[]> {
  return [
    ...(await aboutDatabase()),
    await aboutClock(),
    await aboutDisk('Disk of the program', process.cwd()),
    await aboutBackups(now),
    await aboutWork(),
    await aboutLetters(),
    await aboutHooks(),
    await aboutLedger(),
    aboutNode(),
  ]
}

async function aboutDatabase(): Promise<Check[]> {
  const [found] = await rows<{
    version: string
    number: number
    fsync: string
    pages: string
    commit: string
    checksums: string
    isOwner: boolean
    size: string
  }>(
    db,
    sql`
      select
        current_setting('server_version') as version, current_setting('server_version_num')::int / 10000 as number,
        current_setting('fsync') as fsync, current_setting('full_page_writes') as pages,
        current_setting('synchronous_commit') as commit, current_setting('data_checksums') as checksums,
        (select rolsuper from pg_roles where rolname = current_user)
          or (select pg_get_userbyid(relowner) = current_user from pg_class where oid = 'moves'::regclass) as "isOwner",
        pg_size_pretty(pg_database_size(current_database())) as size`,
  )
  const { version, number, fsync, pages, commit, checksums, isOwner, size } = found!
  const isSafe = fsync === 'on' && pages === 'on' && commit !== 'off'
  return [
    number >= LEAST_POSTGRES
      ? good('Database', `PostgreSQL ${version}, ${size}.`)
      : bad('Database', `PostgreSQL ${version} is too old.`, `Use PostgreSQL ${LEAST_POSTGRES} or later.`),
    isSafe
      ? good('What is recorded is on the disk', 'fsync, full_page_writes and synchronous_commit are on.')
      : bad(
          'What is recorded is on the disk',
          `fsync is ${fsync}, full_page_writes is ${pages}, synchronous_commit is ${commit}: a power cut can lose what was recorded.`,
          'Set all three to on in postgresql.conf, and start PostgreSQL again.',
        ),
    checksums === 'on'
      ? good('Checksums', 'A damaged page of the disk is noticed.')
      : look('Checksums', 'A damaged page of the disk would not be noticed.', 'Run pg_checksums --enable once.'),
    isOwner
      ? look(
          'Rights in the database',
          'Tsumiki serves people as the owner of its tables: a fault could change the ledger.',
          'Let npm start make the roles, or give DATABASE_OWNER_URL of another role, as the guide describes.',
        )
      : good('Rights in the database', 'Tsumiki may neither change nor remove what was recorded.'),
  ]
}

async function aboutClock(): Promise<Check> {
  const before = Date.now()
  const [found] = await rows<{ at: number }>(db, sql`select extract(epoch from clock_timestamp())::float8 * 1000 as at`)
  const apart = Math.abs(found!.at - (before + Date.now()) / 2)
  const seconds = (apart / 1000).toFixed(1)
  return apart < CLOCKS_MAY_DIFFER
    ? good('Clock', `The clocks of the program and of the database differ by ${seconds} s.`)
    : bad(
        'Clock',
        `The clocks of the program and of the database differ by ${seconds} s: days and sign-ins go wrong.`,
        'Set both by the network (timedatectl set-ntp true).',
      )
}

async function aboutDisk(name: string, folder: string): Promise<Check> {
  const { bavail, bsize } = await statfs(folder)
  const free = bavail * bsize
  const said = `${(free / GIGABYTE).toFixed(1)} GB are free in ${folder}.`
  return free > LEAST_FREE ? good(name, said) : bad(name, said, 'Make room, or move the folder to a larger disk.')
}

async function aboutBackups(now: Date): Promise<Check> {
  const { rows: found, isOverdue } = await readBackups(now)
  const [newest] = found
  if (isOverdue) {
    return bad(
      'Backups',
      newest ? `The last one is of ${newest.madeAt.slice(0, 10)}.` : 'There is none.',
      `Look whether ${backupFolder()} can be written, and back up now.`,
    )
  }
  return good('Backups', newest ? `The last one is of ${newest.madeAt.slice(0, 10)}.` : 'None is needed yet.')
}

async function aboutWork(): Promise<Check> {
  const [found] = await rows<{ failed: number; waited: number }>(
    db,
    sql`
      select
        count(*) filter (where state = 'failed')::int as failed,
        coalesce(
          max(extract(epoch from now() - greatest(created_on, start_after)))
            filter (where state in ('created', 'retry') and start_after < now()),
          0
        )::float8 / 60 as waited
      from jobs.job`,
  )
  const { failed, waited } = found!
  if (waited > MOST_MINUTES) {
    return bad(
      'Background work',
      `Some has waited for ${Math.round(waited)} minutes.`,
      'Start a program that does it: ROLE=all or ROLE=worker.',
    )
  }
  return failed > 0
    ? look('Background work', `${failed} failed.`, 'Look at the list of background work, and begin it again.')
    : good('Background work', 'Nothing waits for long, and nothing failed.')
}

async function aboutLetters(): Promise<Check> {
  const [found] = await rows<{ failed: number }>(
    db,
    sql`select count(*)::int as failed from mails where state = 'failed' and sent_at > now() - interval '14 days'`,
  )
  if (process.env.SMTP_URL === undefined) {
    return good('Letters', 'They stay in the mailbox here; SMTP_URL names a mail server to send them by.')
  }
  return found!.failed > 0
    ? look('Letters', `${found!.failed} of the last two weeks could not be sent.`, 'Look at SMTP_URL and MAIL_FROM.')
    : good('Letters', 'All of the last two weeks were sent, or wait to be.')
}

async function aboutHooks(): Promise<Check> {
  const [found] = await rows<{ failed: number }>(
    db,
    sql`select count(*)::int as failed from hook_calls where state = 'failed' and at > now() - interval '14 days'`,
  )
  return found!.failed > 0
    ? look('Web hooks', `${found!.failed} calls were given up.`, 'Look at the web hook’s calls, and send them again.')
    : good('Web hooks', 'No call was given up.')
}

/** What the last check of the ledger found: it is made each week, and when somebody asks. */
async function aboutLedger(): Promise<Check> {
  const [last] = await rows<{ day: string; differing: number; age: number }>(
    db,
    sql`
      select
        completed_on::date::text as day, (output ->> 'differing')::int as differing,
        extract(day from now() - completed_on)::int as age
      from (
        select completed_on, output from jobs.job where name = 'ledger-check' and state = 'completed'
        union all
        select completed_on, output from jobs.archive where name = 'ledger-check' and state = 'completed'
      ) done
      where output ? 'differing'
      order by completed_on desc
      limit 1`,
  )
  if (!last || last.age > LEDGER_DAYS) {
    return look(
      'Ledger',
      last ? `It was last worked out again on ${last.day}.` : 'It was not worked out again yet.',
      'Check the ledger now.',
    )
  }
  return ledgerVerdict(`On ${last.day}`, last.differing)
}

/** What a check of the ledger came to. */
export const ledgerVerdict = (when: string, differing: number): Check =>
  differing > 0
    ? bad(
        'Ledger',
        `${when} ${differing} quantities or values differed from the moves.`,
        'Run npm run check-ledger, which names them; with -- --mend it mends them.',
      )
    : good('Ledger', `${when} every quantity and value agreed with the moves.`)

function aboutNode(): Check {
  return good('Program', `Node.js ${process.versions.node}, up for ${Math.round(process.uptime() / 60)} minutes.`)
}
