import { and, eq, sql } from 'drizzle-orm'
import { back, everyDay, makeCalendar } from '~~/core/calendar/working'
import { toDay, toIso } from '~~/core/calendar/days'
import { wayFrom, type PlanInput, type Source } from '~~/core/planning/input'
import { rows, type Tx } from '~~/server/database/client'
import { builds, plannedOrders, purchaseLines, purchaseOrders, transfers } from '~~/server/database/schema'
import { refuseField, Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { OrderEdit } from '~~/shared/planning'
import { asNumeric, loadMeasuredItem, readQuantity, fromNumberField } from '../catalogue/measured-items'
import { noteChange } from '../company/command'
import { loadPlannedSites } from './planned-sites'
import { lockPlan, runPlan, type Run } from './plans'
import { requireSettled } from './runs'
import { scopeOf } from './stored-plan'

const STALE = 'The plan was computed anew since you opened it. Reload it and look again; nothing of yours was saved.'

/**
 * Fixes a planned order at a quantity, a day and a supplier: it stays so when the plan is computed again, and what it needs is planned. `free` lets it go.
 *
 * Errors: `stale-version`; `not-now` for a released order; `invalid-input` beside its field.
 */
export async function editOrder(
  tx: Tx,
  actor: Actor,
  planId: number,
  orderId: number,
  edit: Omit<OrderEdit, 'key'>,
  run: Run = runPlan,
): Promise<{ version: number }> {
  const plan = await lockPlan(tx, planId)
  if (plan.version !== edit.version) {
    throw new Refusal('stale-version', STALE)
  }
  await requireSettled(tx, planId)
  const [order] = await tx
    .select()
    .from(plannedOrders)
    .where(and(eq(plannedOrders.planId, planId), eq(plannedOrders.id, orderId)))
  if (!order) {
    throw new Refusal('not-found', 'There is no such planned order.')
  }
  if (order.state === 'released') {
    throw new Refusal('not-now', 'This order is released. Change the purchase order or build that it became.')
  }
  if (edit.free) {
    await tx.update(plannedOrders).set({ state: 'proposed' }).where(eq(plannedOrders.id, orderId))
  } else {
    if (edit.dueOn < actor.today) {
      refuseField('dueOn', 'This day is over. Choose today or later.')
    }
    if (edit.dueOn > plan.endsOn) {
      refuseField('dueOn', 'This lies beyond the plan. Choose a day within it, or plan further ahead.')
    }
    const item = await loadMeasuredItem(tx, order.itemId)
    const { quantity } = readQuantity(item, fromNumberField(edit.quantity), item.stockUnit, 'quantity', 'required')
    const source = sourceFor(
      plan.input!,
      (await loadPlannedSites(tx, scopeOf(plan))).nodeAt(order.itemId, order.siteId) ?? String(order.itemId),
      edit.supplierId,
    )
    if (order.kind === 'buy' && source?.kind !== 'buy') {
      refuseField('supplierId', `${item.code} is not bought from this supplier. Add their terms on the item.`)
    }
    const release =
      source && source.kind !== 'none'
        ? back(calendarOf(plan.input!, source.calendar), toDay(edit.dueOn), source.leadDays)
        : toDay(edit.dueOn)
    await tx
      .update(plannedOrders)
      .set({
        state: 'fixed',
        quantity: asNumeric(quantity),
        dueOn: edit.dueOn,
        releaseOn: toIso(Math.max(toDay(actor.today), release)),
        supplierId: source?.kind === 'buy' ? Number(source.supplier) : null,
      })
      .where(eq(plannedOrders.id, orderId))
  }
  return { version: (await run(tx, actor, planId)).version }
}

function sourceFor(input: PlanInput, node: string, supplierId: number | null): Source | undefined {
  const found = input.nodes.find((entry) => entry.id === node)
  if (!found || supplierId === null) {
    return found?.source
  }
  const source_ = wayFrom(found, String(supplierId))
  return source_.kind === 'buy' && source_.supplier === String(supplierId) ? source_ : undefined
}

const calendarOf = (input: PlanInput, id: string | null) =>
  id === null || !input.calendars[id]
    ? everyDay
    : makeCalendar(input.calendars[id].weekdays, input.calendars[id].closed)

/** Acts on a message: an open purchase line, build or transfer comes on another day; the plan is computed anew. Errors: `stale-version`; `not-found`; `invalid-input`. */
export async function moveSupply(
  tx: Tx,
  actor: Actor,
  planId: number,
  edit: { version: number; supply: string; dueOn: string },
  run: Run = runPlan,
): Promise<{ version: number; number: string; before: string; after: string }> {
  if ((await lockPlan(tx, planId)).version !== edit.version) {
    throw new Refusal('stale-version', STALE)
  }
  await requireSettled(tx, planId)
  if (edit.dueOn < actor.today) {
    refuseField('dueOn', 'This day is over. Choose today or later.')
  }
  const [kind, id] = edit.supply.split(':')
  const move = MOVES[kind!] ?? moveBuild
  const moved = await move(tx, actor, Number(id), edit.dueOn)
  return { ...moved, after: edit.dueOn, version: (await run(tx, actor, planId)).version }
}

/** How a supply of each kind, the first part of its id, is moved to another day; builds and break-downs alike. */
const MOVES: Readonly<Record<string, typeof moveBuild>> = { purchase: movePurchaseLine, transfer: moveTransfer }

async function movePurchaseLine(
  tx: Tx,
  actor: Actor,
  lineId: number,
  dueOn: string,
): Promise<{ number: string; before: string }> {
  const [line] = await rows<{
    orderId: number
    line: number
    dueOn: string
    number: string
    version: number
    status: string
  }>(
    tx,
    sql`
      select l.order_id as "orderId", l.line, l.due_on as "dueOn", o.number, o.version, o.status
      from purchase_lines l
      join purchase_orders o on o.id = l.order_id
      where l.id = ${lineId}
      for update of o`,
  )
  if (!line || line.status !== 'open') {
    throw new Refusal('not-found', 'This purchase order is no longer open. Plan again.')
  }
  await tx.update(purchaseLines).set({ dueOn }).where(eq(purchaseLines.id, lineId))
  await tx
    .update(purchaseOrders)
    .set({ version: line.version + 1 })
    .where(eq(purchaseOrders.id, line.orderId))
  await noteChange(
    tx,
    actor,
    'purchase order',
    line.orderId,
    { version: line.version, line: line.line, dueOn: line.dueOn },
    { version: line.version + 1, line: line.line, dueOn },
  )
  return { number: line.number, before: line.dueOn }
}

async function moveBuild(tx: Tx, actor: Actor, id: number, dueOn: string): Promise<{ number: string; before: string }> {
  const [build] = await tx.select().from(builds).where(eq(builds.id, id)).for('update')
  if (!build || !['draft', 'ready', 'started'].includes(build.status)) {
    throw new Refusal('not-found', 'This build is no longer open. Plan again.')
  }
  if (build.releaseOn > dueOn) {
    await tx.update(builds).set({ releaseOn: dueOn }).where(eq(builds.id, id))
  }
  await tx
    .update(builds)
    .set({ dueOn, version: build.version + 1 })
    .where(eq(builds.id, id))
  await noteChange(
    tx,
    actor,
    'build',
    id,
    { version: build.version, dueOn: build.dueOn },
    { version: build.version + 1, dueOn },
  )
  return { number: build.number, before: build.dueOn }
}

async function moveTransfer(
  tx: Tx,
  actor: Actor,
  lineId: number,
  dueOn: string,
): Promise<{ number: string; before: string }> {
  const [transfer] = await rows<{
    id: number
    dueOn: string
    leavesOn: string
    number: string
    version: number
    status: string
  }>(
    tx,
    sql`
      select t.id, t.due_on as "dueOn", t.leaves_on as "leavesOn", t.number, t.version, t.status
      from transfers t
      join transfer_lines l on l.transfer_id = t.id
      where l.id = ${lineId}
      for update of t`,
  )
  if (!transfer || transfer.status !== 'open') {
    throw new Refusal('not-found', 'This transfer is no longer open. Plan again.')
  }
  // What has not left goes sooner with it.
  const leavesOn = transfer.leavesOn > dueOn ? dueOn : transfer.leavesOn
  await tx
    .update(transfers)
    .set({ dueOn, leavesOn, version: transfer.version + 1 })
    .where(eq(transfers.id, transfer.id))
  await noteChange(
    tx,
    actor,
    'transfer',
    transfer.id,
    { version: transfer.version, leavesOn: transfer.leavesOn, dueOn: transfer.dueOn },
    { version: transfer.version + 1, leavesOn, dueOn },
  )
  return { number: transfer.number, before: transfer.dueOn }
}
