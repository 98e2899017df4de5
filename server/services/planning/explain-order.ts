import { sql } from 'drizzle-orm'
import { reasonsOf, type PlannedOrder, type Reason } from '~~/core/planning/explain'
import { wayFrom } from '~~/core/planning/input'
import { db, rows } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import { itemOf } from '~~/shared/planning/node-id'
import { loadMeasuredItems } from '../catalogue/measured-items'
import { loadPlan } from './stored-plan'
import { loadSiteNames, amount } from './site-names'
import type { WhyReason } from '../../../shared/planning/answers'

/** Why this much, why now: the chain of a planned order, each link with its numbers. */
export async function explainOrder(planId: number, orderId: number) {
  const { input, output, scope } = await loadPlan(db, planId)
  const [row] = await rows<{ ref: string }>(
    db,
    sql`select ref from planned_orders where id = ${orderId} and plan_id = ${planId}`,
  )
  const order = output.orders.find((o) => o.id === row?.ref)
  if (!order || row?.ref.startsWith('released:')) {
    throw new Refusal('not-found', 'This planned order is released, or the plan has been computed anew.')
  }
  const items = await loadMeasuredItems(db, 'all')
  const measuredItem = items.get(itemOf(order.node))!
  const steps = (n: number): string => amount(measuredItem, n)
  const demands = new Map(input.demands.map((d) => [d.id, d]))
  const orders = new Map(output.orders.map((o) => [o.id, o]))
  const describeReason = (reason: Reason, node: string): WhyReason => {
    const parent = reason.order === undefined ? null : orders.get(reason.order)!
    const demand = demands.get(reason.demand)
    const item = items.get(itemOf(node))!
    return {
      label: parent
        ? `${VERBS[parent.kind]} ${amount(items.get(itemOf(parent.node))!, parent.quantity)} ${items.get(itemOf(parent.node))!.code}`
        : (demand?.label ?? reason.demand),
      kind: parent ? 'planned order' : (demand?.kind ?? 'sales order'),
      quantity: amount(item, reason.quantity),
      day: parent ? parent.release : (demand?.day ?? ''),
      itemCode: item.code,
      reasons: parent ? reason.reasons.map((r) => describeReason(r, parent.node)) : [],
    }
  }
  const { why } = order
  // A plan that was stored when there was but the exact rule does not say what the rule asked for.
  const byRule = (why as Partial<typeof why>).byRule ?? why.netRequirement
  const source = wayFrom(
    input.nodes.find((n) => n.id === order.node)!,
    order.supplier,
  )
  const supplier = source.kind === 'buy' ? await loadTerms(measuredItem.id, Number(source.supplier)) : null
  const siteNames = await loadSiteNames(input, scope)
  const from = source.kind === 'move' ? siteNames(source.from) : null
  return {
    code: measuredItem.code,
    name: measuredItem.name,
    site: siteNames(order.node),
    from,
    kind: order.kind,
    quantity: steps(order.quantity),
    due: order.due,
    release: order.release,
    lateBy: order.lateBy,
    promised: order.promised,
    balanceBefore: steps(why.balanceBefore),
    demandThatDay: steps(why.demandThatDay),
    safety: steps(why.safety),
    netRequirement: steps(why.netRequirement),
    ...alsoCounted(why, steps),
    balanceAfter: steps(balanceAfter(output.orders, order)),
    minimum: inUnit(supplier?.minimum, supplier?.unit),
    multiple: why.multiple > 1 ? steps(Math.round(why.multiple)) : null,
    multipleEntered: inUnit(supplier?.multiple, supplier?.unit),
    times: why.times,
    leadDays: why.leadDays,
    fixed: order.fixed === true,
    rule: why.rule,
    byRule: steps(byRule),
    ruleSize: ruleSizeOf(why, steps),
    split: why.split ?? null,
    supplier: supplier?.name ?? null,
    reasons: reasonsOf(output, order.id).map((r) => describeReason(r, order.node)),
  }
}

/** Open supply that was counted before anything new was ordered; null where there is none. */
const alsoCounted = (
  { pulledIn, awaited }: PlannedOrder['why'],
  steps: (quantity: number) => string,
): { readonly pulledIn: string | null; readonly awaited: string | null } => ({
  pulledIn: pulledIn === undefined ? null : steps(pulledIn),
  awaited: awaited === undefined ? null : steps(awaited),
})

/**
 * What is there at the end of the day: what was before it and was pulled in to it, less what it demands, and all that
 * is planned for it.
 */
const balanceAfter = (orders: readonly PlannedOrder[], { node, due, why }: PlannedOrder): number =>
  why.balanceBefore +
  (why.pulledIn ?? 0) -
  why.demandThatDay +
  orders
    .filter((order) => order.node === node && order.due === due && order.fixed !== true)
    .reduce((sum, order) => sum + order.quantity, 0)

const inUnit = (quantity: string | undefined, unit: string | undefined): string | null =>
  quantity === undefined || quantity === '0' ? null : `${quantity} ${unit}`

/** How large the lot-sizing rule wants an order: days for cover, else a quantity. */
function ruleSizeOf(why: PlannedOrder['why'], steps: (quantity: number) => string): string | null {
  if (why.ruleSize === undefined) {
    return null
  }
  return why.rule === 'cover' ? String(why.ruleSize) : steps(why.ruleSize)
}

async function loadTerms(
  itemId: number,
  supplierId: number,
): Promise<{ name: string; unit: string; minimum: string; multiple: string } | null> {
  const [terms] = await rows<{ name: string; unit: string; minimum: string; multiple: string }>(
    db,
    sql`
      select s.name, u.symbol as unit, t.minimum, t.multiple
      from supplier_terms t
      join suppliers s on s.id = t.supplier_id
      join units u on u.code = t.unit
      where t.item_id = ${itemId} and t.supplier_id = ${supplierId}`,
  )
  return terms ?? null
}

const VERBS = { buy: 'Buy', make: 'Build', 'break down': 'Break down to get', move: 'Move' } as const
