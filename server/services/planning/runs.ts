import { eq, sql } from 'drizzle-orm'
import { db, rows, type Tx } from '~~/server/database/client'
import { planRuns, plans } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { PlanRun } from '~~/shared/planning/requests'
import { inTransaction } from '../../database/transactions'
import { computePlan, gatherPlan, storePlan, type Run } from './plans'
import { lockDocument } from '../../documents'

/**
 * A server that has not said for so long that it computes is taken to be gone, and the plan is computed by another;
 * after so many times it is given up.
 */
const GONE_AFTER = 15
const MOST_TRIES = 3

/**
 * Puts a plan into the queue, in the transaction that changes what it is computed on. The version goes up, so that what
 * is under way is not stored.
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
  const fresh = {
    state: sql`case when plan_runs.state = 'running' then 'running' else 'waiting' end`,
    asked: sql`plan_runs.asked + 1`,
    tries: 0,
    userId: actor.userId,
    today: actor.today,
    phase: '',
    percent: 0,
    problem: '',
    askedAt: sql`now()`,
  }
  await tx
    .insert(planRuns)
    .values({ planId: id, state: 'waiting', userId: actor.userId, today: actor.today })
    .onConflictDoUpdate({ target: planRuns.planId, set: fresh })
  return { id, version: row.version }
}

export interface Claim {
  readonly planId: number
  readonly asked: number
  readonly userId: number
  readonly today: string
}

/**
 * Takes the plan that has waited longest, or one whose server is gone; null where none waits. Two servers never take
 * the same.
 */
export async function claimRun(): Promise<Claim | null> {
  await rows(
    db,
    sql`
      update plan_runs
      set
        state = 'failed',
        problem = 'It was begun several times and never ended. Make the plan smaller, or ask the person who looks after Tsumiki.'
      where state = 'running'
        and beat_at < now() - make_interval(secs => ${GONE_AFTER})
        and tries >= ${MOST_TRIES}`,
  )
  const [claim] = await rows<Claim>(
    db,
    sql`
      update plan_runs
      set state = 'running', beat_at = now(), tries = tries + 1, phase = 'reading what is there', percent = 5
      where plan_id = (
        select plan_id
        from plan_runs
        where state = 'waiting'
          or (state = 'running' and beat_at < now() - make_interval(secs => ${GONE_AFTER}))
        order by asked_at
        for update skip locked
        limit 1
      )
      returning plan_id as "planId", asked, user_id as "userId", today`,
  )
  return claim ?? null
}

/** Says that a run is still under way, and how far; answers whether it is to go on. */
export async function beat({ planId }: Claim, phase?: string, percent?: number): Promise<boolean> {
  const [row] = await rows<{ state: string }>(
    db,
    sql`
      update plan_runs
      set
        beat_at = now(), phase = coalesce(${phase ?? null}, phase),
        percent = coalesce(${percent ?? null}::int, percent)
      where plan_id = ${planId} and state = 'running'
      returning state`,
  )
  return row !== undefined
}

/** The end of a run: done, or to be computed once more where something was asked meanwhile. A problem ends it. */
export async function endRun({ planId, asked }: Claim, problem: string | null): Promise<void> {
  await rows(
    db,
    sql`
      update plan_runs
      set
        state = case
          when asked <> ${asked} then 'waiting'
          when ${problem}::text is null then 'done'
          else 'failed'
        end,
        problem = case when asked <> ${asked} then '' else coalesce(${problem}::text, '') end, tries = 0,
        phase = '', percent = 0
      where plan_id = ${planId} and state = 'running'`,
  )
}

/** Takes a plan out of the queue, or stops it. What was computed before stays. */
export async function cancelRun(tx: Tx, planId: number): Promise<{ cancelled: boolean }> {
  const [plan] = await tx.select({ id: plans.id }).from(plans).where(eq(plans.id, planId))
  if (!plan) {
    throw new Refusal('not-found', 'There is no such plan.')
  }
  const found = await tx
    .update(planRuns)
    .set({ state: 'cancelled', phase: '', percent: 0 })
    .where(sql`plan_id = ${planId} and state in ('waiting', 'running')`)
    .returning({ planId: planRuns.planId })
  return { cancelled: found.length > 0 }
}

export async function readRun(planId: number): Promise<PlanRun> {
  const [row] = await rows<PlanRun>(
    db,
    sql`
      select
        p.version, p.output is not null as "hasResult", coalesce(r.state, 'done') as state,
        coalesce(r.phase, '') as phase, coalesce(r.percent, 0) as percent, coalesce(r.problem, '') as problem
      from plans p
      left join plan_runs r on r.plan_id = p.id
      where p.id = ${planId}`,
  )
  if (!row) {
    throw new Refusal('not-found', 'There is no such plan.')
  }
  return row
}

/** Errors: `not-now` while the plan is being computed: what is shown of it is about to be replaced. */
export async function requireSettled(tx: Tx, planId: number): Promise<void> {
  const [open] = await tx
    .select({ state: planRuns.state })
    .from(planRuns)
    .where(sql`plan_id = ${planId} and state in ('waiting', 'running')`)
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

/**
 * Computes a plan without keeping anybody waiting: it is read, worked out, and only written under a lock.
 *
 * Where the plan was changed meanwhile nothing is written: it is in the queue again.
 */
export async function computeApart(
  claim: Claim,
  onProgress: (phase: string, percent: number) => Promise<unknown> | unknown,
): Promise<void> {
  const gathered = await db.transaction(
    async (tx) => {
      const [row] = await tx.select().from(plans).where(eq(plans.id, claim.planId))
      return row ? gatherPlan(tx, claim.today, row) : null
    },
    { isolationLevel: 'repeatable read', accessMode: 'read only' },
  )
  if (!gathered) {
    return
  }
  await onProgress('netting every item', 45)
  const computed = computePlan(gathered)
  await onProgress('writing it down', 75)
  await inTransaction(async (tx) => {
    const row = await lockDocument(tx, 'plan', claim.planId)
    const [run] = await rows<{ asked: number; state: string }>(
      tx,
      sql`select asked, state from plan_runs where plan_id = ${claim.planId}`,
    )
    if (row.version === gathered.row.version && run?.asked === claim.asked && run.state === 'running') {
      await storePlan(tx, row, computed)
    }
  })
}
