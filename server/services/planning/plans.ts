import { and, desc, eq, ne, sql } from 'drizzle-orm'
import { plan, type DemandRule } from '~~/core/planning'
import { ratio } from '~~/core/units'
import { db, rows, type Tx } from '~~/server/database/client'
import { plannedOrders, plans } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { NewPlan } from '~~/shared/planning'
import { asNumeric, loadFrames } from '../catalogue/frames'
import { takeSnapshot } from './snapshot'

export interface PlanRow { id: number, name: string, kind: 'trial' | 'working', startsOn: string, endsOn: string, demandRule: string, ranAt: string | null, who: string, proposed: number, late: number, version: number }

export function listPlans(): Promise<PlanRow[]> {
  return rows<PlanRow>(db, sql`
    select p.id, p.name, p.kind, p.starts_on as "startsOn", p.ends_on as "endsOn", p.demand_rule as "demandRule", p.ran_at::text as "ranAt", u.name as who, p.version,
      (select count(*)::int from planned_orders o where o.plan_id = p.id and o.state = 'proposed') as proposed, (select count(*)::int from planned_orders o where o.plan_id = p.id and o.state = 'proposed' and o.late_by > 0) as late
    from plans p join users u on u.id = p.user_id order by (p.kind <> 'working'), p.id desc limit 100`)
}

export async function createPlan(tx: Tx, actor: Actor, edit: NewPlan): Promise<{ id: number }> {
  if (edit.endsOn < actor.today) throw new Refusal('invalid-input', 'The plan ends before today.', { endsOn: `The plan begins today, ${actor.today}. Choose a later end.` })
  const [made] = await tx.insert(plans).values({ ...edit, startsOn: actor.today, userId: actor.userId }).returning({ id: plans.id })
  await runPlan(tx, actor, made!.id)
  return { id: made!.id }
}

/** Computes a plan anew on what is there now. Released orders stay listed; proposed ones are replaced. */
export async function runPlan(tx: Tx, actor: Actor, id: number): Promise<{ id: number, version: number }> {
  const [row] = await tx.select().from(plans).where(eq(plans.id, id)).for('update')
  if (!row) throw new Refusal('not-found', 'There is no such plan.')
  const input = await takeSnapshot(tx, { start: actor.today, end: row.endsOn < actor.today ? actor.today : row.endsOn, demandRule: row.demandRule as DemandRule, forecastIds: row.forecastIds, forecastFalls: row.forecastFalls })
  const result = plan(input)
  if (!result.ok) throw new Error(`Snapshot refused: ${JSON.stringify(result.error)}`)
  const frames = await loadFrames(tx, 'all')
  const nodes = new Map(input.nodes.map(node => [node.id, node]))
  await tx.delete(plannedOrders).where(and(eq(plannedOrders.planId, id), ne(plannedOrders.state, 'released')))
  await rows(tx, sql`update planned_orders set ref = 'released:' || id where plan_id = ${id} and ref not like 'released:%'`)
  const proposed = result.value.orders.map((order) => {
    const { source } = nodes.get(order.node)!
    const frame = frames.get(Number(order.node))!
    return {
      planId: id, ref: order.id, itemId: frame.id, kind: order.kind, quantity: asNumeric(frame.measure.finestStep.mul(ratio(BigInt(order.quantity)))), releaseOn: order.release, dueOn: order.due,
      lateBy: order.lateBy, promisedOn: order.promised, supplierId: source.kind === 'buy' ? Number(source.supplier) : null,
    }
  })
  for (let at = 0; at < proposed.length; at += 1000) await tx.insert(plannedOrders).values(proposed.slice(at, at + 1000))
  await tx.update(plans).set({ startsOn: actor.today, input, output: result.value, ranAt: sql`now()`, version: row.version + 1 }).where(eq(plans.id, id))
  return { id, version: row.version + 1 }
}

/** Makes a trial plan the working plan: it may release. The one that was working becomes a trial. */
export async function adoptPlan(tx: Tx, actor: Actor, id: number): Promise<{ id: number, version: number }> {
  await tx.update(plans).set({ kind: 'trial', version: sql`${plans.version} + 1` }).where(and(eq(plans.kind, 'working'), ne(plans.id, id)))
  await tx.update(plans).set({ kind: 'working' }).where(eq(plans.id, id))
  return runPlan(tx, actor, id)
}

export async function deletePlan(tx: Tx, id: number): Promise<{ id: number }> {
  const [row] = await tx.select().from(plans).where(eq(plans.id, id)).for('update')
  if (!row) throw new Refusal('not-found', 'There is no such plan.')
  if (row.kind === 'working') throw new Refusal('not-now', 'This is the working plan. Make another plan the working one first.')
  await tx.delete(plans).where(eq(plans.id, id))
  return { id }
}

/** The plan that the buying list and Today read. */
export async function workingPlanId(): Promise<number | null> {
  const [row] = await db.select({ id: plans.id }).from(plans).where(eq(plans.kind, 'working')).orderBy(desc(plans.id)).limit(1)
  return row?.id ?? null
}
