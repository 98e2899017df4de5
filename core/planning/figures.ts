import { toDay, toIso, weekday } from '../calendar'
import { groupBy } from '../group-by'
import type { PlanInput, PriceStep } from './input'
import { needsOf } from './needs-of'
import type { PlanOutput, PlannedOrder } from './output'

/** What a plan comes to, for holding two beside each other. Money in minor units, whole. */
export interface PlanFigures {
  /** Items that would fall short (or under their safety stock) without planned orders, and the first day of that. */
  readonly holes: number
  readonly firstHole: string | null
  /** Items short in spite of the plan: nothing says where they come from. */
  readonly short: number
  readonly orders: { readonly buy: number, readonly make: number, readonly breakDown: number, readonly move: number }
  readonly late: number
  /** Of what customers want within the plan: lines, and those that wait for nothing late or missing. */
  readonly lines: number
  readonly inTime: number
  /** Bought by the week of its release, Mondays; planned orders only. */
  readonly spend: readonly { readonly week: string, readonly supplier: string, readonly amount: number }[]
  /** What stock would be worth at the end of each week. */
  readonly stock: readonly { readonly week: string, readonly amount: number }[]
}

/** What so many steps cost at the price that their number gives. */
export function costAt(prices: readonly PriceStep[] | undefined, quantity: number): number {
  if (!prices || prices.length === 0) return 0
  let price = prices[0]!.price
  for (const step of prices) if (quantity >= step.from) price = step.price
  return Math.round(price * quantity)
}

export const weekOf = (iso: string): string => toIso(toDay(iso) - weekday(toDay(iso)))

/** The demands that wait for something late or missing, straight or through what it is made of. */
export function demandsAtRisk(input: PlanInput, output: PlanOutput): ReadonlySet<string> {
  const late = new Set(output.orders.filter(order => order.lateBy > 0).map(order => order.id))
  const supplied = new Map<string, string[]>()
  const got = new Map<string, number>()
  for (const peg of output.pegs) {
    const list = supplied.get(peg.demand)
    if (list) list.push(peg.supply)
    else supplied.set(peg.demand, [peg.supply])
    got.set(peg.demand, (got.get(peg.demand) ?? 0) + peg.quantity)
  }
  const nodes = new Map(input.nodes.map(node => [node.id, node]))
  const orders = new Map(output.orders.map(order => [order.id, order]))
  const known = new Map<string, boolean>()
  const waits = (supply: string): boolean => {
    const order = supply.split('+')[0]!
    const before = known.get(order)
    if (before !== undefined) return before
    known.set(order, false)
    const own = orders.get(order)
    const answer = late.has(order) || (own !== undefined && [...groupBy(needsOf(nodes.get(own.node)!, own.quantity), need => need.node)].some(([node, needs]) => {
      const demand = `${order}>${node}`
      return (got.get(demand) ?? 0) < needs.reduce((sum, need) => sum + need.quantity, 0) || supplied.get(demand)!.some(waits)
    }))
    known.set(order, answer)
    return answer
  }
  return new Set(input.demands.filter(d => d.day <= input.end && ((got.get(d.id) ?? 0) < d.quantity || supplied.get(d.id)!.some(waits))).map(d => d.id))
}

export function figuresOf(input: PlanInput, output: PlanOutput): PlanFigures {
  const source = new Map(input.nodes.map(node => [node.id, node]))
  const holes = output.nodes.flatMap(node => node.days.find(day => day.withoutOrders < node.safety)?.day ?? [])
  const count = (kind: PlannedOrder['kind']): number => output.orders.filter(order => order.kind === kind && !order.through).length
  const asked = input.demands.filter(d => d.day <= input.end && (d.kind === 'sales order' || d.kind === 'forecast' || d.kind === 'what-if'))
  const risky = demandsAtRisk(input, output)
  const spend = new Map<string, number>()
  for (const order of output.orders) {
    const from = source.get(order.node)!.source
    if (from.kind !== 'buy') continue
    const key = `${weekOf(order.release)}|${from.supplier}`
    spend.set(key, (spend.get(key) ?? 0) + costAt(from.prices, order.quantity))
  }
  const weeks: string[] = []
  for (let week = toDay(weekOf(input.start)); week <= toDay(input.end); week += 7) weeks.push(toIso(week))
  const stock = new Float64Array(weeks.length)
  for (const node of output.nodes) {
    const worth = source.get(node.id)!.worth ?? 0
    if (worth === 0) continue
    let at = 0
    let balance = node.onHand
    for (const [index, week] of weeks.entries()) {
      const last = toIso(toDay(week) + 6)
      for (; node.days[at] && node.days[at]!.day <= last; at++) balance = node.days[at]!.projectedAvailable
      stock[index]! += Math.max(0, balance) * worth
    }
  }
  return {
    holes: holes.length, firstHole: holes.reduce<string | null>((first, day) => first === null || day < first ? day : first, null), short: new Set(output.messages.filter(m => m.code === 'short').map(m => m.node)).size,
    orders: { buy: count('buy'), make: count('make'), breakDown: count('break down'), move: count('move') }, late: output.orders.filter(order => order.lateBy > 0 && !order.through).length,
    lines: asked.length, inTime: asked.filter(d => !risky.has(d.id)).length,
    spend: [...spend].map(([key, amount]) => { const [week, supplier] = key.split('|'); return { week: week!, supplier: supplier!, amount } }).sort((a, b) => (a.week < b.week ? -1 : a.week > b.week ? 1 : a.supplier < b.supplier ? -1 : 1)),
    stock: weeks.map((week, index) => ({ week, amount: Math.round(stock[index]!) })),
  }
}
