import { sql, type SQL } from 'drizzle-orm'
import PgBoss from 'pg-boss'
import type { ClientBase } from 'pg'
import { pool, rows, type Reader, type Tx } from '~~/server/database/client'
import { logProblem } from '~~/server/utils/log'
import { JOB_NAMES, JOBS, type JobData, type JobDefinition, type JobName } from './definitions'

/** The schema of the queue library's tables. */
export const SCHEMA = 'jobs'
/** The library's own queue, by which it begins what is due. */
const LIBRARY_QUEUE = '__pgboss__send-it'
/** Seconds that finished work is shown before it is put away, and that what was put away is kept. */
const SHOWN = 14 * 24 * 60 * 60

interface Executor {
  executeSql(text: string, values?: unknown[]): Promise<{ rows: Record<string, unknown>[] }>
}
const onPool: Executor = { executeSql: (text, values = []) => pool.query(text, values) }

/** The queue as one of several programs sees it; `isWorking` where this one keeps it in order and begins what is due. */
export function openQueue(isWorking: boolean): PgBoss {
  const queue = new PgBoss({
    db: onPool as unknown as PgBoss.Db,
    schema: SCHEMA,
    migrate: false,
    supervise: isWorking,
    schedule: isWorking,
    archiveCompletedAfterSeconds: 60 * 60,
    archiveFailedAfterSeconds: SHOWN,
    deleteAfterSeconds: SHOWN,
  })
  queue.on('error', (error) => logProblem('Queue', error))
  return queue
}

/** Asks for work, and takes it back; it needs not be running for that. */
const queue = openQueue(false)

/** Makes the queue's tables, or brings them up to date, and its kinds of work. */
export async function prepareQueue(client: ClientBase): Promise<void> {
  const executor: Executor = { executeSql: (text, values) => client.query(text, values) }
  const library = new PgBoss({
    db: executor as unknown as PgBoss.Db,
    schema: SCHEMA,
    migrate: true,
    supervise: false,
    schedule: false,
  })
  await library.start()
  await library.createQueue(LIBRARY_QUEUE)
  for (const name of JOB_NAMES) {
    const { oneAtATime, retryLimit, retryDelay, retryBackoff, longest }: JobDefinition = JOBS[name]
    const options = {
      name,
      policy: oneAtATime ? ('stately' as const) : ('standard' as const),
      retryLimit,
      retryDelay,
      retryBackoff,
      expireInSeconds: longest,
    }
    await library.createQueue(name, options)
    await library.updateQueue(name, options)
  }
  await library.stop({ graceful: false })
}

/** Statements of the library within a transaction of ours. */
const within = (tx: Reader): PgBoss.Db =>
  ({
    executeSql: async (text: string, values: unknown[] = []) => ({ rows: await rows(tx, withValues(text, values)) }),
  }) as unknown as PgBoss.Db

/** A statement with numbered places, with what stands in them. */
function withValues(text: string, values: readonly unknown[]): SQL {
  const parts = text.split(/\$(\d+)/)
  return sql.join(
    parts.map((part, index) => (index % 2 === 0 ? sql.raw(part) : sql`${sql.param(values[Number(part) - 1])}`)),
  )
}

/**
 * Asks for work in the transaction that causes it: where that is undone, so is this. Where one of the same `key` waits
 * already, that one will do.
 */
export async function enqueue<Name extends JobName>(
  tx: Reader,
  name: Name,
  data: JobData[Name],
  key?: string,
): Promise<void> {
  await queue.send(name, (data ?? {}) as object, {
    db: within(tx),
    ...(key === undefined ? {} : { singletonKey: key }),
  })
}

/** Takes work back that waits or is being done. Answers how much of it there was. */
export async function cancelWork(tx: Tx, name: JobName, key: string): Promise<number> {
  const open = await rows<{ id: string }>(
    tx,
    sql`
      select id
      from jobs.job
      where name = ${name} and singleton_key = ${key} and state in ('created', 'retry', 'active')
      for update`,
  )
  if (open.length > 0) {
    await queue.cancel(
      name,
      open.map(({ id }) => id),
      { db: within(tx) },
    )
  }
  return open.length
}

/** Stops one piece of work. */
export const stopWork = (tx: Tx, name: JobName, id: string): Promise<void> => queue.cancel(name, id, { db: within(tx) })

/** Begins work again that failed or was stopped; where another of its key waits, that one will do. */
export async function beginAgain(tx: Tx, name: JobName, id: string, state: 'failed' | 'stopped'): Promise<void> {
  const again = { db: within(tx) }
  try {
    await tx.transaction(async () => {
      await (state === 'failed' ? queue.retry(name, id, again) : queue.resume(name, id, again))
    })
  } catch (error) {
    if ((error as { cause?: { code?: string } }).cause?.code !== '23505') {
      throw error
    }
  }
}
