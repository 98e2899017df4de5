import { and, eq, sql } from 'drizzle-orm'
import { plan } from '~~/core/planning'
import type { DemandRule } from '~~/core/planning/demand'
import type { PlanInput, Source } from '~~/core/planning/input'
import type { PlanOutput } from '~~/core/planning/explain'
import { ratio } from '~~/core/units/exact'
import { db, rows, type Reader, type Tx } from '~~/server/database/client'
import { plannedOrders, plans, routes } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { itemOf, siteOf } from '~~/shared/planning/node-id'
import type { NewPlan, PlanEdit, PlanScope } from '~~/shared/planning/requests'
import { asNumeric, loadMeasuredItems } from '../catalogue/measured-items'
import { loadPlannedSites } from './planned-sites'
import { takeSnapshot } from './snapshot'
import { nodesInScope, scopeOf, settingsOf, withChanges } from './stored-plan'
import { lockDocument, lockAsSeen, noteChange } from '../../documents'

export interface PlanRow {
  id: number
  name: string
  note: string
  kind: 'trial' | 'working'
  startsOn: string
  endsOn: string
  demandRule: string
  ranAt: string | null
  who: string
  proposed: number
  late: number
  changes: number
  version: number
}

export function listPlans(): Promise<PlanRow[]> {
  return rows<PlanRow>(
    db,
    sql`
      select
        p.id, p.name, p.note, p.kind, p.starts_on as "startsOn", p.ends_on as "endsOn",
        p.demand_rule as "demandRule", p.ran_at::text as "ranAt", u.name as who, p.version,
        jsonb_array_length(p.changes) as changes,
        (
          select count(*)::int from planned_orders o where o.plan_id = p.id and o.state <> 'released'
        ) as proposed,
        (
          select count(*)::int
          from planned_orders o
          where o.plan_id = p.id and o.state <> 'released' and o.late_by > 0
        ) as late
      from plans p
      join users u on u.id = p.user_id
      order by (p.kind <> 'working'), p.id desc
      limit 100`,
  )
}

const requireEnd = (endsOn: string, today: string): void => {
  if (endsOn < today) {
    throw new Refusal('invalid-input', 'The plan ends before today.', {
      endsOn: `The plan begins today, ${today}. Choose a later end.`,
    })
  }
}

export async function createPlan(tx: Tx, actor: Actor, edit: NewPlan, run: Run = runPlan): Promise<{ id: number }> {
  requireEnd(edit.endsOn, actor.today)
  if (edit.kind === 'working') {
    await makeTrials(tx)
  }
  const [made] = await tx
    .insert(plans)
    .values({ ...edit, startsOn: actor.today, userId: actor.userId })
    .returning({ id: plans.id })
  await run(tx, actor, made!.id)
  return { id: made!.id }
}

/** Changes what a plan looks at or tries out, and computes it anew. Errors: `stale-version`; `invalid-input`. */
export async function editPlan(
  tx: Tx,
  actor: Actor,
  id: number,
  { version, ...edit }: Omit<PlanEdit, 'key'>,
  run: Run = runPlan,
): Promise<{ id: number; version: number }> {
  const row = await lockAsSeen(tx, 'plan', id, version)
  requireEnd(edit.endsOn, actor.today)
  await tx.update(plans).set(edit).where(eq(plans.id, id))
  const { name, note, endsOn, forecastFalls, demandRule, forecastIds, scope, changes } = row
  await noteChange(
    tx,
    actor,
    { kind: 'plan', id },
    { name, note, endsOn, forecastFalls, demandRule, forecastIds, scope, changes, version },
    { ...edit, version: version + 1 },
  )
  return run(tx, actor, id)
}

/** The same plan once more, as a trial plan: settings, what is tried out, and what is fixed. */
export async function copyPlan(
  tx: Tx,
  actor: Actor,
  id: number,
  name: string,
  run: Run = runPlan,
): Promise<{ id: number }> {
  const { note, endsOn, forecastFalls, demandRule, forecastIds, scope, changes } = await lockDocument(tx, 'plan', id)
  const [made] = await tx
    .insert(plans)
    .values({
      note,
      endsOn,
      forecastFalls,
      demandRule,
      forecastIds,
      scope,
      changes,
      name,
      kind: 'trial',
      startsOn: actor.today,
      userId: actor.userId,
    })
    .returning({ id: plans.id })
  await rows(
    tx,
    sql`
      insert into planned_orders (
        plan_id, ref, item_id, kind, quantity, release_on, due_on, late_by, promised_on, supplier_id, site_id,
        from_site_id, state
      )
      select
        ${made!.id}, ref, item_id, kind, quantity, release_on, due_on, late_by, promised_on, supplier_id,
        site_id, from_site_id, state
      from planned_orders
      where plan_id = ${id} and state = 'fixed'`,
  )
  await run(tx, actor, made!.id)
  return { id: made!.id }
}

/** Has a plan computed: at once, or by whoever is there for it. */
export type Run = (
  tx: Tx,
  actor: Pick<Actor, 'userId' | 'today'>,
  id: number,
) => Promise<{ id: number; version: number }>

/**
 * Computes a plan anew on what is there now. Released orders stay listed and fixed ones stay as they are; proposed ones
 * are replaced.
 */
export const runPlan: Run = async (tx, actor, id) => {
  const row = await lockDocument(tx, 'plan', id)
  return storePlan(tx, row, computePlan(await gatherPlan(tx, actor.today, row)))
}

export type PlanHead = typeof plans.$inferSelect
export interface Gathered {
  readonly row: PlanHead
  /** When it was read: what is written down later is not in it. */
  readonly readAt: string
  readonly today: string
  readonly snapshot: PlanInput
  readonly input: PlanInput
  readonly among: ReadonlySet<string> | null
}
export interface Computed extends Gathered {
  readonly output: PlanOutput
}

/** Reads all that a plan is computed on. */
export async function gatherPlan(reader: Reader, today: string, row: PlanHead): Promise<Gathered> {
  const [{ readAt }] = (await rows<{ readAt: string }>(reader, sql`select now()::text as "readAt"`)) as [
    { readAt: string },
  ]
  const fixed = await reader
    .select()
    .from(plannedOrders)
    .where(and(eq(plannedOrders.planId, row.id), eq(plannedOrders.state, 'fixed')))
  const scope = scopeOf(row)
  const snapshot = await takeSnapshot(reader, {
    start: today,
    end: row.endsOn < today ? today : row.endsOn,
    demandRule: row.demandRule as DemandRule,
    forecastIds: row.forecastIds,
    forecastFalls: row.forecastFalls,
    scope,
    fixed,
  })
  const input = await withChanges(reader, snapshot, row.changes)
  return { row, readAt, today, snapshot, input, among: await nodesInScope(reader, input, scope) }
}

export function computePlan(gathered: Gathered): Computed {
  const result = plan(gathered.input)
  if (!result.ok) {
    throw new Error(`Snapshot refused: ${JSON.stringify(result.error)}`)
  }
  return { ...gathered, output: result.value }
}

/** Writes what was computed in place of what was there; the plan's row is locked by the caller. */
export async function storePlan(
  tx: Tx,
  row: PlanHead,
  { readAt, today, snapshot, input, among, output }: Computed,
): Promise<{ id: number; version: number }> {
  const { id } = row
  const sources = new Map(input.nodes.map((node) => [node.id, node.source]))
  await tx.delete(plannedOrders).where(and(eq(plannedOrders.planId, id), eq(plannedOrders.state, 'proposed')))
  await rows(
    tx,
    sql`update planned_orders set ref = state || ':' || id where plan_id = ${id} and ref <> state || ':' || id`,
  )
  for (const order of output.orders) {
    if (order.fixed) {
      await rows(
        tx,
        sql`
          update planned_orders
          set late_by = ${order.lateBy}, promised_on = ${order.promised}
          where id = ${Number(order.id.slice(6))}`,
      )
    }
  }
  const ends = await endsOf(tx, scopeOf(row))
  const proposed = output.orders.filter(
    (order) => !order.fixed && !order.through && (among === null || among.has(order.node)),
  )
  const steps = new Map(
    (await loadMeasuredItems(tx, [...new Set(proposed.map((order) => itemOf(order.node)))])).entries(),
  )
  for (let index = 0; index < proposed.length; index += 1000) {
    await tx.insert(plannedOrders).values(
      proposed.slice(index, index + 1000).map((order) => {
        const source = sources.get(order.node)!
        const item = steps.get(itemOf(order.node))!
        return {
          planId: id,
          ref: order.id,
          itemId: item.id,
          kind: order.kind,
          quantity: asNumeric(item.measure.finestStep.mul(ratio(BigInt(order.quantity)))),
          releaseOn: order.release,
          dueOn: order.due,
          lateBy: order.lateBy,
          promisedOn: order.promised,
          supplierId: source.kind === 'buy' ? Number(source.supplier) : null,
          ...ends(order.node, source),
        }
      }),
    )
  }
  await tx
    .update(plans)
    .set({
      startsOn: today,
      input: snapshot,
      output,
      ranAt: readAt,
      ranWith: settingsOf(row),
      version: row.version + 1,
    })
    .where(eq(plans.id, id))
  return { id, version: row.version + 1 }
}

/**
 * The site that a planned order is for, and the one that it is moved from: those of its way, else the first of each
 * area.
 */
async function endsOf(
  reader: Reader,
  scope: PlanScope,
): Promise<(node: string, source: Source) => { siteId: number; fromSiteId: number | null }> {
  const { areas } = await loadPlannedSites(reader, scope)
  const routeById = new Map((await reader.select().from(routes)).map((route) => [String(route.id), route]))
  const site = (node: string): number => siteOf(node) ?? areas.main
  return (node, source) => {
    const route = source.kind === 'move' && source.route !== undefined ? routeById.get(source.route) : undefined
    return {
      siteId: route?.toSiteId ?? site(node),
      fromSiteId: source.kind === 'move' ? (route?.fromSiteId ?? site(source.from)) : null,
    }
  }
}

/**
 * Makes a trial plan the working plan, on today's data: it may release. The one that was working becomes a trial.
 *
 * What is only tried out is taken out, since it is not so: the answer counts it.
 */
export async function adoptPlan(
  tx: Tx,
  actor: Actor,
  id: number,
  run: Run = runPlan,
): Promise<{ id: number; version: number; dropped: number }> {
  const row = await lockDocument(tx, 'plan', id)
  await makeTrials(tx, id)
  await tx.update(plans).set({ kind: 'working', changes: [] }).where(eq(plans.id, id))
  return { ...(await run(tx, actor, id)), dropped: row.changes.length }
}

/** There is one working plan: whichever was becomes a trial. */
async function makeTrials(tx: Tx, but = 0): Promise<void> {
  // Two that are to become the working plan wait for each other; the later one stays.
  await rows(tx, sql`select pg_advisory_xact_lock(7303)`)
  await tx
    .update(plans)
    .set({ kind: 'trial', version: sql`${plans.version} + 1` })
    .where(and(eq(plans.kind, 'working'), sql`${plans.id} <> ${but}`))
}

export async function deletePlan(tx: Tx, id: number): Promise<{ id: number }> {
  if ((await lockDocument(tx, 'plan', id)).kind === 'working') {
    throw new Refusal('not-now', 'This is the working plan. Make another plan the working one first.')
  }
  await tx.delete(plans).where(eq(plans.id, id))
  return { id }
}

/** The plan that the buying list and Today read. */
export async function workingPlanId(): Promise<number | null> {
  const [row] = await db.select({ id: plans.id }).from(plans).where(eq(plans.kind, 'working'))
  return row?.id ?? null
}
