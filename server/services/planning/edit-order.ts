import { and, eq } from 'drizzle-orm'
import { back, everyDay, makeCalendar } from '~~/core/calendar/working'
import { toDay, toIso } from '~~/core/calendar/days'
import { wayFrom, type PlanInput, type Source } from '~~/core/planning/input'
import type { Tx } from '~~/server/database/client'
import { plannedOrders, purchaseLines, transferLines } from '~~/server/database/schema'
import { refuseField, Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { OrderEdit } from '~~/shared/planning/requests'
import { asNumeric, loadMeasuredItem, readQuantity, exactIfPlain } from '../catalogue/measured-items'
import { loadPlannedSites } from './planned-sites'
import { runPlan, type Run } from './plans'
import { requireSettled } from './runs'
import { scopeOf } from './stored-plan'
import { lockDocument, saveDocument, type DocumentOf } from '../../documents'
import { OPEN_BUILD } from '~~/shared/workshop/requests'
import { readSupplyId, type SupplyKind } from './supply-ids'

const STALE = 'The plan was computed anew since you opened it. Reload it and look again; nothing of yours was saved.'

/**
 * Fixes a planned order at a quantity, a day and a supplier: it stays so when the plan is computed again, and what it
 * needs is planned. `free` lets it go.
 *
 * Errors: `stale-version`; `not-now` for a released order; `invalid-input` beside its field.
 */
export async function editOrder(
  tx: Tx,
  actor: Actor,
  { planId, orderId }: { readonly planId: number; readonly orderId: number },
  edit: Omit<OrderEdit, 'key'>,
  run: Run = runPlan,
): Promise<{ version: number }> {
  const plan = await lockDocument(tx, 'plan', planId)
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
    const fixed = await fixedAs(tx, actor, plan, order, edit)
    await tx.update(plannedOrders).set(fixed).where(eq(plannedOrders.id, orderId))
  }
  return { version: (await run(tx, actor, planId)).version }
}

/** What a planned order becomes when it is fixed as a person says. */
async function fixedAs(
  tx: Tx,
  actor: Actor,
  plan: DocumentOf<'plan'>,
  order: typeof plannedOrders.$inferSelect,
  edit: Omit<OrderEdit, 'key'>,
) {
  if (edit.dueOn < actor.today) {
    refuseField('dueOn', 'This day is over. Choose today or later.')
  }
  if (edit.dueOn > plan.endsOn) {
    refuseField('dueOn', 'This lies beyond the plan. Choose a day within it, or plan further ahead.')
  }
  const item = await loadMeasuredItem(tx, order.itemId)
  const { quantity } = readQuantity(item, exactIfPlain(edit.quantity), item.stockUnit, 'quantity', 'required')
  const sites = await loadPlannedSites(tx, scopeOf(plan))
  const node = sites.nodeAt(order.itemId, order.siteId) ?? String(order.itemId)
  const source = sourceFor(plan.input!, node, edit.supplierId)
  if (order.kind === 'buy' && source?.kind !== 'buy') {
    refuseField('supplierId', `${item.code} is not bought from this supplier. Add their terms on the item.`)
  }
  const due = toDay(edit.dueOn)
  const release =
    source && source.kind !== 'none' ? back(calendarOf(plan.input!, source.calendar), due, source.leadDays) : due
  return {
    state: 'fixed' as const,
    quantity: asNumeric(quantity),
    dueOn: edit.dueOn,
    releaseOn: toIso(Math.max(toDay(actor.today), release)),
    supplierId: source?.kind === 'buy' ? Number(source.supplier) : null,
  }
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

/**
 * Acts on a message: an open purchase line, build or transfer comes on another day; the plan is computed anew. Errors:
 * `stale-version`; `not-found`; `invalid-input`.
 */
export async function moveSupply(
  tx: Tx,
  actor: Actor,
  planId: number,
  edit: { version: number; supply: string; dueOn: string },
  run: Run = runPlan,
): Promise<{ version: number; number: string; before: string; after: string }> {
  if ((await lockDocument(tx, 'plan', planId)).version !== edit.version) {
    throw new Refusal('stale-version', STALE)
  }
  await requireSettled(tx, planId)
  if (edit.dueOn < actor.today) {
    refuseField('dueOn', 'This day is over. Choose today or later.')
  }
  const { kind, id } = readSupplyId(edit.supply)
  const moved = await MOVES[kind](tx, actor, id, edit.dueOn)
  return { ...moved, after: edit.dueOn, version: (await run(tx, actor, planId)).version }
}

/** How a supply of each kind is moved to another day; builds and break-downs alike. */
const MOVES: Readonly<Record<SupplyKind, typeof moveBuild>> = {
  purchase: movePurchaseLine,
  transfer: moveTransfer,
  build: moveBuild,
}

async function movePurchaseLine(
  tx: Tx,
  actor: Actor,
  lineId: number,
  dueOn: string,
): Promise<{ number: string; before: string }> {
  const [line] = await tx.select().from(purchaseLines).where(eq(purchaseLines.id, lineId))
  const order = line && (await lockDocument(tx, 'purchase order', line.orderId))
  if (order?.status !== 'open') {
    throw new Refusal('not-found', 'This purchase order is no longer open. Plan again.')
  }
  await tx.update(purchaseLines).set({ dueOn }).where(eq(purchaseLines.id, lineId))
  await saveDocument(tx, actor, 'purchase order', order, {
    set: {},
    before: { line: line!.line, dueOn: line!.dueOn },
    after: { line: line!.line, dueOn },
  })
  return { number: order.number, before: line!.dueOn }
}

async function moveBuild(tx: Tx, actor: Actor, id: number, dueOn: string): Promise<{ number: string; before: string }> {
  const build = await lockDocument(tx, 'build', id)
  if (!OPEN_BUILD.some((status) => status === build.status)) {
    throw new Refusal('not-found', 'This build is no longer open. Plan again.')
  }
  const releaseOn = build.releaseOn > dueOn ? dueOn : build.releaseOn
  await saveDocument(tx, actor, 'build', build, { set: { dueOn, releaseOn } })
  return { number: build.number, before: build.dueOn }
}

async function moveTransfer(
  tx: Tx,
  actor: Actor,
  lineId: number,
  dueOn: string,
): Promise<{ number: string; before: string }> {
  const [line] = await tx.select().from(transferLines).where(eq(transferLines.id, lineId))
  const transfer = line && (await lockDocument(tx, 'transfer', line.transferId))
  if (transfer?.status !== 'open') {
    throw new Refusal('not-found', 'This transfer is no longer open. Plan again.')
  }
  // What has not left goes sooner with it.
  const leavesOn = transfer.leavesOn > dueOn ? dueOn : transfer.leavesOn
  await saveDocument(tx, actor, 'transfer', transfer, { set: { dueOn, leavesOn } })
  return { number: transfer.number, before: transfer.dueOn }
}
