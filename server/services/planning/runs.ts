import { eq, sql } from 'drizzle-orm'
import { db, rows, type Reader, type Tx } from '~~/server/database/client'
import { plans } from '~~/server/database/schema'
import type { JobData } from '~~/server/jobs/definitions'
import { cancelWork, enqueue } from '~~/server/jobs/queue'
import { wakeWorkers } from '~~/server/jobs/wake'
import { Refusal } from '~~/server/utils/refusal'
import type { PlanRun } from '~~/shared/planning/requests'
import { inTransaction } from '../../database/transactions'
import { computePlan, gatherPlan, storePlan, type Run } from './plans'
import { lockDocument } from '../../documents'

/**
 * Has a plan computed in the background, in the transaction that changes what it is computed on. The version goes up,
 * so that what is under way is not stored.
 */
export const askRun: Run = async (tx, actor, id) => {
  const [row] = await tx
    .update(plans)
    .set({ version: sql`${plans.version} + 1` })
    .where(eq(plans.id, id))
    .returning({ version: plans.version })
  if (!row) {
    throw new Refusal('not-found', 'There is no such plan.')
  }
  await enqueue(tx, 'plan', { planId: id, userId: actor.userId, today: actor.today }, String(id))
  return { id, version: row.version }
}

/** Takes a plan out of the queue, or stops it. What was computed before stays. */
export async function cancelRun(tx: Tx, planId: number): Promise<{ cancelled: boolean }> {
  const [plan] = await tx.select({ id: plans.id }).from(plans).where(eq(plans.id, planId))
  if (!plan) {
    throw new Refusal('not-found', 'There is no such plan.')
  }
  return { cancelled: (await cancelWork(tx, 'plan', String(planId))) > 0 }
}

/** Has every plan computed that never was and that nobody asks for: one that waited in a restored backup, for one. */
export async function enqueueUncomputedPlans(reader: Reader): Promise<void> {
  const left = await rows<JobData['plan']>(
    reader,
    sql`
      select p.id as "planId", p.user_id as "userId", p.starts_on as today
      from plans p
      where p.output is null
        and not exists (select 1 from jobs.job j where j.name = 'plan' and j.singleton_key = p.id::text)`,
  )
  for (const data of left) {
    await enqueue(reader, 'plan', data, String(data.planId))
  }
}

/** What is told where computing failed in a way that was not foreseen. */
const UNFORESEEN =
  'It could not be computed, and the plan is as it was. Try again; if it stays, tell the person who looks after Tsumiki.'

/** How a plan's computation stands: what is worked on, else what waits, else what came of it last. */
export async function readRun(planId: number): Promise<PlanRun> {
  const [row] = await rows<PlanRun>(
    db,
    sql`
      select
        p.version, p.output is not null as "hasResult",
        case
          when j.state = 'active' then 'running'
          when j.state in ('created', 'retry') then 'waiting'
          when j.state in ('failed', 'cancelled') then j.state::text
          else 'done'
        end as state,
        coalesce(r.phase, '') as phase, coalesce(r.percent, 0) as percent,
        case
          when j.state <> 'failed' or j.state is null then ''
          when (j.output ->> 'isTold')::boolean then j.output ->> 'problem'
          else ${UNFORESEEN}
        end as problem
      from plans p
      left join lateral (
        select id, state, output
        from jobs.job
        where name = 'plan' and singleton_key = p.id::text
        order by state = 'active' desc, state < 'active' desc, created_on desc
        limit 1
      ) j on true
      left join job_runs r on r.job_id = j.id and j.state = 'active'
      where p.id = ${planId}`,
  )
  if (!row) {
    throw new Refusal('not-found', 'There is no such plan.')
  }
  return row
}

/** Errors: `not-now` while the plan is being computed: what is shown of it is about to be replaced. */
export async function requireSettled(tx: Reader, planId: number): Promise<void> {
  const [open] = await rows<{ id: string }>(
    tx,
    sql`
      select id
      from jobs.job
      where name = 'plan' and singleton_key = ${String(planId)} and state in ('created', 'retry', 'active')
      limit 1`,
  )
  if (open) {
    throw new Refusal('not-now', 'The plan is being computed just now. Wait until it is there, or stop it.')
  }
}

export const isOpen = (run: Pick<PlanRun, 'state'>): boolean => run.state === 'waiting' || run.state === 'running'

/**
 * Waits a little for a plan to be computed, so that a small one is there with the answer; answers how it stands.
 *
 * Error: `not-found`.
 */
export async function settled(planId: number, most = 1000): Promise<PlanRun> {
  for (const end = Date.now() + most; ;) {
    const run = await readRun(planId)
    if (!isOpen(run) || Date.now() > end) {
      return run
    }
    await new Promise((resolve) => setTimeout(resolve, 30))
  }
}

/** After an act that had a plan computed: begins at once, and waits a little for it. */
export function soon(planId: number): Promise<PlanRun> {
  wakeWorkers('plan')
  return settled(planId)
}

/**
 * Computes a plan without keeping anybody waiting: it is read, worked out, and only written under a lock.
 *
 * Where it was taken back meanwhile nothing is written; where the plan was changed it is asked for once more.
 */
export async function computeApart(
  data: JobData['plan'],
  jobId: string,
  onPhase: (phase: string, percent: number) => unknown,
): Promise<void> {
  await onPhase('reading what is there', 5)
  const gathered = await db.transaction(
    async (tx) => {
      const [row] = await tx.select().from(plans).where(eq(plans.id, data.planId))
      return row ? gatherPlan(tx, data.today, row) : null
    },
    { isolationLevel: 'repeatable read', accessMode: 'read only' },
  )
  if (!gathered) {
    return
  }
  await onPhase('netting every item', 45)
  const computed = computePlan(gathered)
  await onPhase('writing it down', 75)
  await inTransaction(async (tx) => {
    const row = await lockDocument(tx, 'plan', data.planId)
    if (row.version !== gathered.row.version) {
      await enqueue(tx, 'plan', data, String(data.planId))
    } else if (await isStillWanted(tx, jobId)) {
      await storePlan(tx, row, computed)
    }
  })
}

/** Whether nobody has taken the work back; who would now, waits for the transaction. */
async function isStillWanted(tx: Tx, jobId: string): Promise<boolean> {
  const [job] = await rows<{ state: string }>(
    tx,
    sql`select state from jobs.job where name = 'plan' and id = ${jobId} for share`,
  )
  return job?.state === 'active'
}
