import { randomInt } from 'node:crypto'
import { setTimeout as pause } from 'node:timers/promises'
import { sql } from 'drizzle-orm'
import pg from 'pg'
import { db, rows } from '~~/server/database/client'

/** The class of the advisory locks by which workers show that they live. */
const LOCKS = 7310
const AGAIN = 2000

interface Listeners {
  /** Others must take this worker to be gone now; it is shown again as soon as that is possible. */
  onLost(): void
  /** There is something to tell other programs. */
  onHookCalls(): void
}

/**
 * Shows that this worker lives, for as long as it does: it holds a lock of its own number on a connection of its own,
 * which the database takes away when the worker or the connection is gone.
 */
export class Presence {
  readonly number = randomInt(1, 2 ** 31 - 1)
  private client: pg.Client | null = null
  private isOver = false

  constructor(private readonly listeners: Listeners) {}

  async show(): Promise<void> {
    const client = new pg.Client({
      connectionString: process.env.DATABASE_URL,
      connectionTimeoutMillis: 8000,
      keepAlive: true,
    })
    let isLost = false
    const lost = (): void => {
      if (isLost || this.isOver || this.client !== client) {
        return
      }
      isLost = true
      this.listeners.onLost()
      void this.showAgain()
    }
    client.on('error', lost)
    client.on('end', lost)
    await client.connect()
    await client.query('select pg_advisory_lock($1, $2)', [LOCKS, this.number])
    this.client = client
    client.on('notification', () => this.listeners.onHookCalls())
    await client.query('listen hook_calls')
  }

  private async showAgain(): Promise<void> {
    while (!this.isOver) {
      try {
        return await this.show()
      } catch {
        await pause(AGAIN)
      }
    }
  }

  async end(): Promise<void> {
    this.isOver = true
    await this.client?.end().catch(() => undefined)
  }
}

/** Work whose worker is gone. */
export const abandonedWork = (): Promise<{ jobId: string; queue: string }[]> =>
  rows(
    db,
    sql`
      select job_id as "jobId", queue
      from job_runs r
      where not exists (
        select 1
        from pg_locks l
        where l.locktype = 'advisory'
          and l.classid = ${LOCKS}
          and l.objid = r.worker
          and l.database = (select oid from pg_database where datname = current_database())
          and l.granted
      )`,
  )
