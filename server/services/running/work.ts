import { sql } from 'drizzle-orm'
import { db, rows, type Tx } from '~~/server/database/client'
import { anywhere, namedColumns, readPage } from '~~/server/database/sql'
import { JOBS, type JobName } from '~~/server/jobs/definitions'
import { beginAgain, stopWork } from '~~/server/jobs/queue'
import { Refusal } from '~~/server/utils/refusal'
import type * as z from 'zod'
import type { Page, Paged } from '~~/shared/primitives'
import type { WorkRow } from '~~/shared/running/answers'
import type { WorkState } from '~~/shared/running/words'

/** How the library's states are told. */
const STATES: Readonly<Record<string, WorkState>> = {
  created: 'waiting',
  retry: 'again',
  active: 'running',
  completed: 'done',
  cancelled: 'stopped',
  failed: 'failed',
}
const COLUMNS = namedColumns({ askedAt: 'day', name: 'text', about: 'text', state: 'text', tries: 'number' })

/** Work of the last two weeks, the newest first. What looks each minute whether something is due is left out once done. */
export async function listWork(query: z.output<typeof Page>): Promise<Paged<WorkRow>> {
  const names = sql.join(
    Object.entries(JOBS).map(([queue, { words }]) => sql`(${queue}, ${words})`),
    sql`, `,
  )
  const states = sql.join(
    Object.entries(STATES).map(([state, word]) => sql`(${state}, ${word})`),
    sql`, `,
  )
  const from = sql`
    (
      select
        j.id::text as id, j.name as queue, k.words as name, s.word as state, j.created_on as "askedAt",
        j.started_on as "begunAt", j.completed_on as "endedAt", j.retry_count as tries,
        coalesce(r.phase, '') as phase, coalesce(r.percent, 0) as percent,
        coalesce(j.output ->> 'problem', '') as problem,
        coalesce(p.name, m.subject, h.name || ': ' || (j.data ->> 'about'), '') as about
      from jobs.job j
      join (values ${names}) as k(queue, words) on k.queue = j.name
      join (values ${states}) as s(state, word) on s.state = j.state::text
      left join job_runs r on r.job_id = j.id and j.state = 'active'
      left join plans p on p.id = (j.data ->> 'planId')::int
      left join mails m on m.id = (j.data ->> 'mailId')::int
      left join web_hooks h on h.id = (j.data ->> 'hookId')::int
      where not (j.state = 'completed' and j.name in ('low-stock', 'month-ends', 'backup', 'outgoing', 'clearing'))
    ) as work`
  const where =
    query.search === '' ? sql`true` : sql`name || ' ' || about || ' ' || state ilike ${anywhere(query.search)}`
  return readPage<WorkRow>(db, query, { from, where, columns: COLUMNS, usual: sql`"askedAt" desc, id` })
}

/** Begins work again that failed or was stopped. Errors: `not-found`, `not-now`. */
export async function workAgain(tx: Tx, id: string): Promise<{ id: string }> {
  const { queue, state } = await lock(tx, id)
  if (state !== 'failed' && state !== 'stopped') {
    throw new Refusal('not-now', 'Only what failed or was stopped is begun again.')
  }
  await beginAgain(tx, queue, id, state)
  return { id }
}

/** Stops work that waits or runs. Errors: `not-found`, `not-now`. */
export async function workStopped(tx: Tx, id: string): Promise<{ id: string }> {
  const { queue, state } = await lock(tx, id)
  if (state !== 'waiting' && state !== 'again' && state !== 'running') {
    throw new Refusal('not-now', 'It is over already.')
  }
  await stopWork(tx, queue, id)
  return { id }
}

async function lock(tx: Tx, id: string): Promise<{ queue: JobName; state: WorkState }> {
  const [job] = await rows<{ queue: string; state: string }>(
    tx,
    sql`select name as queue, state from jobs.job where id = ${id} for update`,
  )
  if (!job || !(job.queue in JOBS)) {
    throw new Refusal('not-found', 'There is no such work any more.')
  }
  return { queue: job.queue as JobName, state: STATES[job.state]! }
}
