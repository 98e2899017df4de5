import type { LotRule, Multiple } from './input'
import { mostBelow, upToMultiple } from './order-size'

export interface Requirement { readonly at: number, readonly quantity: number }

interface LeastCost { readonly rule: Extract<LotRule, { kind: 'least cost' }>, readonly minimum: number, readonly multiple: Multiple }

/** Up to so many requirements every size that can matter is weighed; beyond, so many stocks are followed. */
const SHORT = 16
const LABELS = 3
/** How many later orders at a limit are reckoned with when one order is sized to come out even with them. */
const MOST_SUMS = 40

/**
 * Chooses orders that meet every requirement at the least total of order, holding and purchase cost: dynamic lot sizing.
 *
 * Between two days on which stock runs out at most one order is of a size other than the minimum or the limit of a price tier: shifting a
 * multiple from one to another changes cost in a straight line until such a limit is met. So the sizes tried are those limits, and what covers
 * the need through some day, alone or together with later orders at a limit. Without limits that is the recursion of Wagner and Whitin.
 * Prices are taken not to rise with the quantity. Of plans that cost the same the one is taken that orders less sooner.
 *
 * Shape:  an order each, by day, never before the first requirement.
 * Units:  quantities in whole steps, as asked for: minimum and multiple are reckoned with and still to be applied; costs in the rule's unit of money; `span`: days, to whose end what is left is held.
 * Cost:   quadratic in the requirements without limits; with limits exact for up to 16 requirements, and near the least (within a per cent in tests) beyond.
 * Source: H. M. Wagner, T. M. Whitin, Dynamic Version of the Economic Lot Size Model, Management Science 5 (1958); for limits: A. Federgruen,
 *         C.-Y. Lee, The dynamic lot size model with quantity discount, Naval Research Logistics 37 (1990), the idea from memory.
 */
export function leastCostOrders(needs: readonly Requirement[], span: number, { rule, minimum, multiple }: LeastCost): readonly Requirement[] {
  if (needs.length === 0) return []
  const tiers = [...rule.tiers ?? []].sort((a, b) => a.from - b.from)
  /** An order is known by what is asked for; its size is that up to the multiple. */
  const up = (asked: number): number => asked === 0 ? 0 : upToMultiple(asked, multiple).quantity
  const least = minimum
  const limits = [...new Set([least, ...tiers.flatMap(({ from }) => [Math.max(from, least), mostBelow(from, multiple)])])].filter(asked => asked > 0 && asked >= least).sort((a, b) => a - b)
  const plain = limits.length === 0 && multiple.numerator === multiple.denominator
  const reach = new Int32Array(needs.length)
  const prices = tiers.map(tier => tier.price)
  const dearest = Math.max(0, ...prices)
  const spread = prices.length > 0 ? dearest - Math.min(...prices) : 0
  // What rounding up to a multiple may add.
  const slack = 2 * up(1)
  if (plain) return coverOrders(needs, () => rule.orderCost, rule.holdingCost)
  return needs.length <= SHORT ? search() : beam()

  function priceOf(size: number): number {
    let price = tiers[0]?.price ?? 0
    for (const tier of tiers) if (size >= tier.from) price = tier.price
    return price * size
  }

  function costOf(size: number, left: number, index: number): number {
    const days = (needs[index + 1]?.at ?? span) - needs[index]!.at
    return (size > 0 ? rule.orderCost + priceOf(size) : 0) + rule.holdingCost * left * days
  }

  function search(): readonly Requirement[] {
    const states = needs.map(() => new Map<number, { cost: number, order: number }>())
    const sums = sumsOf(limits.map(up), needs.reduce((sum, need) => sum + need.quantity, 0))
    /** The least cost from a requirement on, with so much there before it. */
    const best = (index: number, stock: number): number => {
      if (index === needs.length) return 0
      const known = states[index]!.get(stock)
      if (known) return known.cost
      const found = { cost: Infinity, order: 0 }
      // Smaller orders first: of equal costs the smaller stays.
      for (const order of candidates(index, stock, sums)) {
        const left = stock + up(order) - needs[index]!.quantity
        const cost = costOf(up(order), left, index) + best(index + 1, left)
        if (cost < found.cost) Object.assign(found, { cost, order })
      }
      states[index]!.set(stock, found)
      return found.cost
    }
    best(0, 0)
    const orders: Requirement[] = []
    let stock = 0
    for (const [index, need] of needs.entries()) {
      const { order } = states[index]!.get(stock)!
      if (order > 0) orders.push({ at: need.at, quantity: order })
      stock += up(order) - need.quantity
    }
    return orders
  }

  /** The same forwards, keeping only the most promising stocks before each requirement: cost so far, less what the stock would cost to get. */
  function beam(): readonly Requirement[] {
    const plainCost = coverOrders(needs, () => rule.orderCost, rule.holdingCost).length * rule.orderCost
    const total = needs.reduce((sum, need) => sum + need.quantity, 0)
    const worth = (prices.length > 0 ? Math.min(...prices) : 0) + plainCost / total
    interface Label { readonly stock: number, readonly cost: number, readonly rank: number, readonly order: number, readonly at: number, readonly from: Label | null }
    const labels: Label[][] = Array.from({ length: needs.length + 1 }, () => [])
    labels[0]!.push({ stock: 0, cost: 0, rank: 0, order: 0, at: 0, from: null })
    const arrive = (index: number, label: Label): void => {
      const list = labels[index]!
      const same = list.findIndex(one => one.stock === label.stock)
      if (same >= 0) { if (label.cost < list[same]!.cost) list[same] = label; return }
      if (list.length < LABELS) { list.push(label); return }
      const worst = list.reduce((at, one, i) => one.rank > list[at]!.rank ? i : at, 0)
      if (label.rank < list[worst]!.rank) list[worst] = label
    }
    for (let index = 0; index < needs.length; index++) {
      for (const from of labels[index]!) {
        for (const order of candidates(index, from.stock, [0])) {
          // On to where the stock no longer suffices.
          let left = from.stock + up(order)
          let cost = from.cost
          let next = index
          for (; next < needs.length && left >= needs[next]!.quantity; next++) { left -= needs[next]!.quantity; cost += costOf(next === index ? up(order) : 0, left, next) }
          arrive(next, { stock: left, cost, rank: cost - worth * left, order, at: needs[index]!.at, from })
        }
      }
    }
    const orders: Requirement[] = []
    for (let label = labels[needs.length]!.reduce((least, one) => one.cost < least.cost ? one : least); label.from !== null; label = label.from) if (label.order > 0) orders.push({ at: label.at, quantity: label.order })
    return orders.reverse()
  }

  function reachOf(index: number): number {
    if (reach[index]! > 0) return reach[index]!
    let through = 0
    let until = index
    for (; until < needs.length; until++) {
      through += needs[until]!.quantity
      if (isTooFar(index, until, through)) break
    }
    return reach[index] = until
  }

  /** Whether covering through a day costs more than a second order on some day before it would, at whatever price: then nobody covers as far. */
  function isTooFar(index: number, until: number, through: number): boolean {
    let after = 0
    for (let second = until; second > index; second--) {
      after += needs[second]!.quantity
      const held = rule.holdingCost * (needs[second]!.at - needs[index]!.at)
      // Both orders must reach the minimum; of the first requirement, stock may serve all but a step.
      const before = through - after - needs[index]!.quantity + 1
      if (after >= least && before >= least && held >= spread && (held - spread) * after > rule.orderCost + spread * (through + slack) + (held + dearest) * slack) return true
    }
    return false
  }

  function candidates(index: number, stock: number, sums: readonly number[]): readonly number[] {
    const wanted = needs[index]!.quantity - stock
    // Costs do not change over time: an order that could wait until stock runs out does.
    if (wanted <= 0) return [0]
    const asked: number[] = limits.filter(one => up(one) >= wanted)
    let through = 0
    for (let until = index; until < needs.length && (until === index || until < reachOf(index)); until++) {
      through += needs[until]!.quantity
      for (const sum of sums) {
        if (through - stock <= sum) break
        const one = Math.max(through - stock - sum, least)
        if (up(one) >= wanted) asked.push(one)
      }
    }
    asked.sort((a, b) => a - b)
    return asked.filter((one, i) => i === 0 || up(one) !== up(asked[i - 1]!))
  }
}

/** Without limits every order covers whole requirements: from the last one backwards, through which day the order of each would best cover. An order's cost may differ by day. */
export function coverOrders(needs: readonly Requirement[], orderCost: (at: number) => number, holdingCost: number): readonly Requirement[] {
  const best = new Float64Array(needs.length + 1)
  const through = new Int32Array(needs.length)
  for (let first = needs.length - 1; first >= 0; first--) {
    let held = 0
    best[first] = Infinity
    for (let last = first; last < needs.length; last++) {
      const kept = holdingCost * needs[last]!.quantity * (needs[last]!.at - needs[first]!.at)
      // Holding this one alone would cost more than an order for it: no order reaches further.
      if (kept > orderCost(needs[last]!.at)) break
      held += kept
      const cost = orderCost(needs[first]!.at) + held + best[last + 1]!
      if (cost < best[first]!) { best[first] = cost; through[first] = last }
    }
  }
  const orders: { at: number, quantity: number }[] = []
  for (let first = 0; first < needs.length; first = through[first]! + 1) {
    orders.push({ at: needs[first]!.at, quantity: 0 })
    for (let k = first; k <= through[first]!; k++) orders.at(-1)!.quantity += needs[k]!.quantity
  }
  return orders
}

/** What several orders at limits come to, smallest first, below a total. */
function sumsOf(limits: readonly number[], total: number): readonly number[] {
  let sums = new Set([0])
  for (const limit of limits) {
    const next = new Set(sums)
    for (const sum of sums) for (let n = 1; sum + n * limit < total && next.size < 4 * MOST_SUMS; n++) next.add(sum + n * limit)
    sums = next
  }
  return [...sums].sort((a, b) => a - b).slice(0, MOST_SUMS)
}
