import { toDay, toIso, weekday } from '../../calendar/days'
import { groupBy } from '../../group-by'
import { wayFrom, type PlanInput, type PlanNode, type PriceStep } from '../input'
import { needsOf } from '../compile'
import { upToMultiple } from '../sizing'
import { needId, orderOfSupply, type PlanOutput, type PlannedOrder } from '../explain'

/** What a plan comes to, for holding two beside each other. Money in minor units, whole. */
export interface PlanFigures {
  /** Items that would fall short (or under their safety stock) without planned orders, and the first day of that. */
  readonly holes: number
  readonly firstShortage: string | null
  /** Items short in spite of the plan: nothing says where they come from. */
  readonly short: number
  readonly orders: { readonly buy: number; readonly make: number; readonly breakDown: number; readonly move: number }
  /**
   * Planned orders that ought to have been released before the start, and open supply that comes after it is needed.
   */
  readonly late: number
  /** Of what customers want within the plan: lines, and those that wait for nothing late or missing. */
  readonly lines: number
  readonly inTime: number
  /** Bought by the week of its release, Mondays; planned orders only. */
  readonly spend: readonly { readonly week: string; readonly supplier: string; readonly amount: number }[]
  /** What stock would be worth at the end of each week. */
  readonly stock: readonly { readonly week: string; readonly amount: number }[]
}

/** What so many steps cost at the price that their number gives. */
export function costAt(prices: readonly PriceStep[] | undefined, quantity: number): number {
  if (!prices || prices.length === 0) {
    return 0
  }
  let price = prices[0]!.price
  for (const step of prices) {
    if (quantity >= step.from) {
      price = step.price
    }
  }
  return Math.round(price * quantity)
}

export const weekOf = (iso: string): string => toIso(toDay(iso) - weekday(toDay(iso)))

/**
 * The demands that cannot be met on their day: something of what serves them is missing, or comes later, straight or
 * through what it is made of.
 *
 * A planned order is there on its promised day, or as much later as its last component comes after its release, in
 * calendar days; open supply on its day, or on that to which it is pulled in, and later in the same way where what it
 * is made of comes later.
 */
export function demandsAtRisk(input: PlanInput, output: PlanOutput): ReadonlySet<string> {
  const nodes = new Map(input.nodes.map((node) => [node.id, node]))
  const orders = new Map(output.orders.map((order) => [order.id, order]))
  const supplied = groupBy(output.pegs, (peg) => peg.demand)
  const coming = new Map(input.supplies.map((supply) => [supply.id, toDay(supply.day)]))
  for (const message of output.messages) {
    if (message.code === 'pull in') {
      coming.set(message.supply, toDay(message.day))
    }
  }
  const madeOf = groupBy(
    input.demands.flatMap((demand) => (demand.for ?? []).map((supply) => ({ supply, demand }))),
    (need) => need.supply,
  )
  const known = new Map<string, number>()
  const openReady = (supply: string): number => {
    const before = known.get(supply)
    if (before !== undefined) {
      return before
    }
    known.set(supply, -Infinity)
    const waits = (madeOf.get(supply) ?? []).map(
      ({ demand }) => allBy(demand.id, demand.quantity) - Math.max(toDay(demand.day), toDay(input.start)),
    )
    const ready = (coming.get(supply) ?? -Infinity) + Math.max(0, ...waits)
    known.set(supply, ready)
    return ready
  }
  const readyOf = (supply: string): number => {
    const order = orders.get(orderOfSupply(supply))
    if (order === undefined) {
      return openReady(supply)
    }
    const before = known.get(order.id)
    if (before !== undefined) {
      return before
    }
    known.set(order.id, -Infinity)
    const parts = [...groupBy(needsOf(nodes.get(order.node)!, order.quantity), (need) => need.node)].map(
      ([node, needs]) =>
        allBy(
          needId(order.id, node),
          needs.reduce((sum, need) => sum + need.quantity, 0),
        ),
    )
    const wait = Math.max(0, ...parts.map((part) => part - toDay(order.release)))
    const ready = toDay(order.promised) + wait
    known.set(order.id, ready)
    return ready
  }
  const allBy = (demand: string, quantity: number): number => {
    const own = supplied.get(demand) ?? []
    return own.reduce((sum, peg) => sum + peg.quantity, 0) < quantity
      ? Infinity
      : Math.max(...own.map((peg) => readyOf(peg.supply)))
  }
  // What was due before the plan begins can be met on its first day at the soonest.
  return new Set(
    input.demands
      .filter((d) => d.day <= input.end && allBy(d.id, d.quantity) > Math.max(toDay(d.day), toDay(input.start)))
      .map((d) => d.id),
  )
}

/**
 * Planned purchases for which a little more would reach a lower price: how much more, and what it saves (or costs) in
 * all.
 */
export function nearTiers(
  input: PlanInput,
  output: PlanOutput,
  within = 1.25,
): readonly {
  readonly order: string
  readonly node: string
  readonly quantity: number
  readonly upTo: number
  readonly costNow: number
  readonly costThen: number
}[] {
  const nodes = new Map(input.nodes.map((node) => [node.id, node]))
  return output.orders.flatMap((order) => {
    const from = wayFrom(nodes.get(order.node)!, order.supplier)
    if (from.kind !== 'buy') {
      return []
    }
    const next = from.prices?.find((step) => step.from > order.quantity)
    if (!next || next.from > order.quantity * within) {
      return []
    }
    const upTo = upToMultiple(next.from, from.multiple ?? { numerator: '1', denominator: '1' }).quantity
    const [costNow, costThen] = [costAt(from.prices, order.quantity), costAt(from.prices, upTo)]
    // Worth a word where each costs less: more is on the shelf for the difference.
    return costThen * order.quantity < costNow * upTo
      ? [{ order: order.id, node: order.node, quantity: order.quantity, upTo, costNow, costThen }]
      : []
  })
}

/** `among`: only these nodes are counted; null is all. */
export function figuresOf(input: PlanInput, whole: PlanOutput, among: ReadonlySet<string> | null = null): PlanFigures {
  const output = among === null ? whole : narrowed(whole, among)
  const holes = output.nodes.flatMap((node) => node.days.find((day) => day.withoutOrders < node.safety)?.day ?? [])
  const count = (kind: PlannedOrder['kind']): number =>
    output.orders.filter((order) => order.kind === kind && !order.through).length
  const asked = input.demands.filter(
    (demand) => (among?.has(demand.node) ?? true) && demand.day <= input.end && WANTED.includes(demand.kind),
  )
  const risky = demandsAtRisk(input, whole)
  const nodes = new Map(input.nodes.map((node) => [node.id, node]))
  return {
    holes: holes.length,
    firstShortage: holes.reduce<string | null>((first, day) => (first === null || day < first ? day : first), null),
    short: new Set(output.messages.filter((message) => message.code === 'short').map((message) => message.node)).size,
    orders: { buy: count('buy'), make: count('make'), breakDown: count('break down'), move: count('move') },
    late:
      output.orders.filter((order) => order.lateBy > 0 && !order.through).length +
      new Set(output.messages.flatMap((message) => (message.code === 'late supply' ? [message.supply] : []))).size,
    lines: asked.length,
    inTime: asked.filter((demand) => !risky.has(demand.id)).length,
    spend: spendOf(output, nodes),
    stock: stockOf(output, nodes, weeksOf(input)),
  }
}

/** What a customer would miss, or a forecast or a trial says that one would. */
const WANTED: readonly string[] = ['sales order', 'forecast', 'what-if']

const narrowed = (whole: PlanOutput, among: ReadonlySet<string>): PlanOutput => ({
  ...whole,
  nodes: whole.nodes.filter((node) => among.has(node.id)),
  orders: whole.orders.filter((order) => among.has(order.node)),
  messages: whole.messages.filter((message) => among.has(message.node)),
})

/** What is ordered of each supplier in each week, by the day on which it is ordered. */
function spendOf(output: PlanOutput, nodes: ReadonlyMap<string, PlanNode>): PlanFigures['spend'] {
  const spend = new Map<string, { week: string; supplier: string; amount: number }>()
  for (const order of output.orders) {
    const from = wayFrom(nodes.get(order.node)!, order.supplier)
    if (from.kind !== 'buy') {
      continue
    }
    const week = weekOf(order.release)
    const key = `${week}|${from.supplier}`
    const known = spend.get(key) ?? { week, supplier: from.supplier, amount: 0 }
    known.amount += costAt(from.prices, order.quantity)
    spend.set(key, known)
  }
  return [...spend].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, entry]) => entry)
}

function weeksOf(input: PlanInput): readonly string[] {
  const weeks: string[] = []
  for (let week = toDay(weekOf(input.start)); week <= toDay(input.end); week += 7) {
    weeks.push(toIso(week))
  }
  return weeks
}

/** What the stock at the end of each week is worth. */
function stockOf(
  output: PlanOutput,
  nodes: ReadonlyMap<string, PlanNode>,
  weeks: readonly string[],
): PlanFigures['stock'] {
  const stock = new Float64Array(weeks.length)
  for (const node of output.nodes) {
    const worth = nodes.get(node.id)!.worth ?? 0
    if (worth === 0) {
      continue
    }
    let position = 0
    let balance = node.onHand
    for (const [index, week] of weeks.entries()) {
      const last = toIso(toDay(week) + 6)
      for (; node.days[position] && node.days[position]!.day <= last; position++) {
        balance = node.days[position]!.projectedAvailable
      }
      stock[index]! += Math.max(0, balance) * worth
    }
  }
  return weeks.map((week, index) => ({ week, amount: Math.round(stock[index]!) }))
}
