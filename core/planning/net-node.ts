import { toDay, toIso, type Day, type WorkingCalendar } from '../calendar'
import type { PlanNode } from './input'
import type { NodePlan, Peg, PlanDay, PlanMessage, PlannedOrder } from './output'
import { expiringLots } from './expiring-lots'
import { pegNode } from './peg-node'
import { sizeOrder } from './size-order'

export interface TimedDemand { readonly id: string, readonly day: Day, readonly quantity: number, readonly priority: number }
export interface OpenSupply { readonly id: string, readonly day: Day, readonly quantity: number }
export interface Horizon { readonly start: Day, readonly end: Day }

export interface NettedNode {
  readonly plan: Omit<NodePlan, 'level'>
  readonly orders: readonly PlannedOrder[]
  readonly pegs: readonly Peg[]
  readonly messages: readonly PlanMessage[]
}

interface Row { demand: number, scheduled: number, net: number, planned: number, released: number, balance: number, bare: number }

/**
 * Nets one node day by day, supplies before demands, and sizes its planned orders.
 *
 * balance(d) = balance(d−1) + receipts(d) − demands(d) − what expired; where it is below the safety stock, open supply due later within the
 * pull-in window is taken first (whole, earliest first), then an order is planned by the *exact* rule with minimum and multiple.
 * A node without a source has no orders: its shortage is a message, and its balance goes on below zero.
 */
export function netNode(node: PlanNode, allDemands: readonly TimedDemand[], allSupplies: readonly OpenSupply[], horizon: Horizon, calendar: WorkingCalendar): NettedNode {
  const messages: PlanMessage[] = []
  const demands = clamp(allDemands, horizon, (d, day) => messages.push({ code: 'past due', node: node.id, day: toIso(day), quantity: d.quantity, ref: d.id }))
  const supplies = clamp(allSupplies, horizon, (s, day) => messages.push({ code: 'past due', node: node.id, day: toIso(day), quantity: s.quantity, ref: s.id }))
  const scheduled = [...supplies].sort(byDay)
  const waiting = [...scheduled]
  const orders: PlannedOrder[] = []
  const arrivals: OpenSupply[] = []
  const rows = new Map<Day, Row>()
  const stock = expiringLots(node, horizon.start)
  const onHand = node.onHand.reduce((sum, lot) => sum + lot.quantity, 0)
  let balance = onHand
  let bare = onHand
  const demandDays = [...demands].sort(byDay)
  const eventDays = new Set([horizon.start, ...demands.map(d => d.day), ...supplies.map(s => s.day), ...stock.lots.map(lot => lot.gone)])
  let nextDemand = 0
  let nextScheduled = 0
  let short = 0

  for (const day of [...eventDays].filter(d => d <= horizon.end).sort((a, b) => a - b)) {
    const row: Row = { demand: 0, scheduled: 0, net: 0, planned: 0, released: 0, balance: 0, bare: 0 }
    rows.set(day, row)
    for (const lost of stock.expire(day)) {
      balance -= lost.quantity
      bare -= lost.quantity
      messages.push({ code: 'will expire', node: node.id, day: toIso(day - 1), quantity: lost.quantity, lot: lost.lot })
    }
    for (; scheduled[nextScheduled] && scheduled[nextScheduled]!.day <= day; nextScheduled++) bare += scheduled[nextScheduled]!.quantity
    while (waiting[0] && waiting[0].day <= day) {
      const supply = waiting.shift()!
      row.scheduled += supply.quantity
      balance += supply.quantity
      arrivals.push(supply)
    }
    for (; demandDays[nextDemand] && demandDays[nextDemand]!.day <= day; nextDemand++) row.demand += demandDays[nextDemand]!.quantity
    const before = balance
    balance -= row.demand
    bare -= row.demand
    if (balance < node.safety) {
      for (const supply of takePullIns(waiting, day, node, balance)) {
        balance += supply.quantity
        row.scheduled += supply.quantity
        arrivals.push({ ...supply, day })
        messages.push({ code: 'pull in', node: node.id, day: toIso(day), quantity: supply.quantity, supply: supply.id, from: toIso(supply.day) })
      }
    }
    row.net = Math.max(0, node.safety - balance)
    if (row.net > 0 && node.source.kind === 'none') {
      if (balance < short) messages.push({ code: 'short', node: node.id, day: toIso(day), quantity: short - balance }, { code: node.source.reason, node: node.id, day: toIso(day), quantity: -balance })
      short = Math.min(short, balance)
    }
    else if (row.net > 0 && node.source.kind !== 'none') {
      const order = sizeOrder(node, node.source, row.net, day, { balanceBefore: before, demandThatDay: row.demand }, horizon, calendar, orders.length)
      orders.push(order)
      balance += order.quantity
      row.planned += order.quantity
      arrivals.push({ id: order.id, day, quantity: order.quantity })
      if (order.lateBy > 0) messages.push({ code: 'late order', node: node.id, day: order.due, quantity: order.quantity, order: order.id, lateBy: order.lateBy, promised: order.promised })
    }
    stock.use(row.demand)
    row.balance = balance
    row.bare = bare
  }
  const days = withReleases(rows, orders, onHand)
  const pegs = pegNode(node, demands.filter(d => d.day <= horizon.end), arrivals)
  const used = new Set(pegs.map(peg => peg.supply))
  for (const supply of supplies) {
    if (!used.has(supply.id)) messages.push({ code: 'surplus', node: node.id, day: toIso(supply.day), quantity: supply.quantity, supply: supply.id })
  }
  return {
    plan: { id: node.id, onHand, safety: node.safety, days },
    orders, pegs, messages,
  }
}

/** The rows as days in order, with what is released on each; a day on which only a release happens keeps the balance before it. */
function withReleases(rows: ReadonlyMap<Day, Row>, orders: readonly PlannedOrder[], onHand: number): readonly PlanDay[] {
  const released = new Map<Day, number>()
  for (const order of orders) { const day = toDay(order.release); released.set(day, (released.get(day) ?? 0) + order.quantity) }
  let last = { balance: onHand, bare: onHand }
  return [...new Set([...rows.keys(), ...released.keys()])].sort((a, b) => a - b).map((day) => {
    const row = rows.get(day) ?? { demand: 0, scheduled: 0, net: 0, planned: 0, released: 0, ...last }
    last = { balance: row.balance, bare: row.bare }
    return toPlanDay(day, { ...row, released: released.get(day) ?? 0 })
  })
}

const byDay = (a: { day: Day, id: string }, b: { day: Day, id: string }): number => a.day - b.day || (a.id < b.id ? -1 : 1)

function clamp<T extends { readonly id: string, readonly day: Day }>(list: readonly T[], horizon: Horizon, pastDue: (entry: T, day: Day) => void): T[] {
  return [...list].sort(byDay).map((entry) => {
    if (entry.day >= horizon.start) return entry
    pastDue(entry, entry.day)
    return { ...entry, day: horizon.start }
  })
}

function takePullIns(waiting: OpenSupply[], day: Day, node: PlanNode, balance: number): OpenSupply[] {
  const window = day + ('leadDays' in node.source ? node.source.leadDays : 0)
  const taken: OpenSupply[] = []
  for (let reached = balance; reached < node.safety && waiting[0] && waiting[0].day <= window;) {
    const supply = waiting.shift()!
    reached += supply.quantity
    taken.push(supply)
  }
  return taken
}

function toPlanDay(day: Day, row: Row): PlanDay {
  return {
    day: toIso(day), grossRequirements: row.demand, scheduledReceipts: row.scheduled, netRequirements: row.net,
    plannedReceipts: row.planned, plannedReleases: row.released, projectedAvailable: row.balance, withoutOrders: row.bare,
  }
}
