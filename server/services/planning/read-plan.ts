import { eq, sql } from 'drizzle-orm'
import { printDay } from '~~/core/calendar'
import { describeMessage, reasonsOf, type Demand, type PlanInput, type PlanOutput, type Reason } from '~~/core/planning'
import { grouped, ratio, toText } from '~~/core/units'
import { db, rows } from '~~/server/database/client'
import { plans } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import { loadFrames, type Frame } from '../catalogue/frames'

export interface PlannedOrderRow {
  id: number, ref: string, itemId: number, code: string, name: string, kind: 'buy' | 'make' | 'break down', quantity: string, symbol: string, releaseOn: string, dueOn: string, lateBy: number, promisedOn: string
  supplier: string | null, state: 'proposed' | 'released', documentKind: string | null, documentId: number | null, documentNumber: string | null
}
export interface PlannedItem { code: string, name: string, symbol: string, decimals: number, step: string, source: string }

/** A plan as the board and the list show it: items on which anything happens, planned orders, messages. */
export async function readPlan(id: number, today: string) {
  const { row, input, output } = await load(id)
  const frames = await loadFrames(db, 'all')
  const busy = output.nodes.filter(node => node.days.length > 1 || node.days.some(d => d.grossRequirements > 0 || d.scheduledReceipts > 0 || d.netRequirements > 0))
  const items = Object.fromEntries(busy.map(({ id: node }) => { const f = frames.get(Number(node))!; return [node, { code: f.code, name: f.name, symbol: f.symbol, decimals: decimalsOf(f), step: f.finestStep, source: f.source } satisfies PlannedItem] }))
  const supplies = new Map(input.supplies.map(s => [s.id, s.label]))
  const demands = new Map(input.demands.map(d => [d.id, d.label]))
  const words = {
    item: (node: string) => `${frames.get(Number(node))!.code} ${frames.get(Number(node))!.name}`, quantity: (node: string, steps: number) => amount(frames.get(Number(node))!, steps),
    day: (iso: string) => printDay(iso, today), ref: (ref: string) => supplies.get(ref) ?? demands.get(ref) ?? ref,
  }
  return {
    id: row.id, name: row.name, kind: row.kind as 'trial' | 'working', startsOn: row.startsOn, endsOn: row.endsOn, demandRule: row.demandRule, forecastIds: row.forecastIds, ranAt: row.ranAt, version: row.version,
    items, nodes: busy, orders: await listPlanned(id), messages: output.messages.map(m => ({ code: m.code, itemId: Number(m.node), day: m.day, text: describeMessage(m, words) })),
  }
}

export function listPlanned(planId: number): Promise<PlannedOrderRow[]> {
  return rows<PlannedOrderRow>(db, sql`
    select o.id, o.ref, o.item_id as "itemId", i.code, i.name, o.kind, o.quantity, u.symbol, o.release_on as "releaseOn", o.due_on as "dueOn", o.late_by as "lateBy", o.promised_on as "promisedOn", s.name as supplier, o.state,
      o.document_kind as "documentKind", o.document_id as "documentId",
      case o.document_kind when 'purchase order' then (select number from purchase_orders where id = o.document_id) when 'build' then (select number from builds where id = o.document_id) when 'break-down' then (select number from break_downs where id = o.document_id) end as "documentNumber"
    from planned_orders o join items i on i.id = o.item_id join units u on u.code = i.stock_unit left join suppliers s on s.id = o.supplier_id where o.plan_id = ${planId} order by (o.state <> 'proposed'), o.release_on, o.due_on, i.code`)
}

export interface WhyReason { label: string, kind: Demand['kind'] | 'planned order', quantity: string, day: string, itemCode: string, reasons: WhyReason[] }

/** Why this much, why now: the chain of a planned order, each link with its numbers. */
export async function explainOrder(planId: number, orderId: number) {
  const { input, output } = await load(planId)
  const [row] = await rows<{ ref: string }>(db, sql`select ref from planned_orders where id = ${orderId} and plan_id = ${planId}`)
  const order = output.orders.find(o => o.id === row?.ref)
  if (!order) throw new Refusal('not-found', 'This planned order is released, or the plan has been computed anew.')
  const frames = await loadFrames(db, 'all')
  const frame = frames.get(Number(order.node))!
  const steps = (n: number): string => amount(frame, n)
  const demands = new Map(input.demands.map(d => [d.id, d]))
  const orders = new Map(output.orders.map(o => [o.id, o]))
  const told = (reason: Reason, node: string): WhyReason => {
    const parent = reason.order === undefined ? null : orders.get(reason.order)!
    const demand = demands.get(reason.demand)
    const item = frames.get(Number(node))!
    return {
      label: parent ? `${VERBS[parent.kind]} ${amount(frames.get(Number(parent.node))!, parent.quantity)} ${frames.get(Number(parent.node))!.code}` : demand?.label ?? reason.demand,
      kind: parent ? 'planned order' : demand?.kind ?? 'sales order', quantity: amount(item, reason.quantity), day: parent ? parent.release : demand?.day ?? '', itemCode: item.code,
      reasons: parent ? reason.reasons.map(r => told(r, parent.node)) : [],
    }
  }
  const { why } = order
  const source = input.nodes.find(n => n.id === order.node)!.source
  const [supplier] = source.kind === 'buy' ? await rows<{ name: string, unit: string, minimum: string, multiple: string }>(db, sql`
    select s.name, u.symbol as unit, t.minimum, t.multiple from supplier_terms t join suppliers s on s.id = t.supplier_id join units u on u.code = t.unit where t.item_id = ${frame.id} and t.supplier_id = ${Number(source.supplier)}`) : []
  return {
    code: frame.code, name: frame.name, kind: order.kind, quantity: steps(order.quantity), due: order.due, release: order.release, lateBy: order.lateBy, promised: order.promised,
    balanceBefore: steps(why.balanceBefore), demandThatDay: steps(why.demandThatDay), safety: steps(why.safety), netRequirement: steps(why.netRequirement), balanceAfter: steps(why.balanceBefore - why.demandThatDay + order.quantity),
    minimum: supplier && supplier.minimum !== '0' ? `${supplier.minimum} ${supplier.unit}` : null, multiple: why.multiple > 1 ? steps(Math.round(why.multiple)) : null,
    multipleEntered: supplier && supplier.multiple !== '0' ? `${supplier.multiple} ${supplier.unit}` : null, times: why.times, leadDays: why.leadDays, supplier: supplier?.name ?? null,
    reasons: reasonsOf(output, order.id).map(r => told(r, order.node)),
  }
}

const VERBS = { 'buy': 'Buy', 'make': 'Build', 'break down': 'Break down to get', 'move': 'Move' } as const
const amount = (frame: Frame, steps: number): string => `${grouped(toText(frame.measure.finestStep.mul(ratio(BigInt(steps)))))} ${frame.symbol}`
const decimalsOf = (frame: Frame): number => frame.measure.graph.units.get(frame.stockUnit)?.decimals ?? 2

async function load(id: number): Promise<{ row: typeof plans.$inferSelect, input: PlanInput, output: PlanOutput }> {
  const [row] = await db.select().from(plans).where(eq(plans.id, id))
  if (!row?.input || !row.output) throw new Refusal('not-found', 'There is no such plan.')
  return { row, input: row.input, output: row.output }
}
