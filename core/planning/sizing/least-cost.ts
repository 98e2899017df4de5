import type { LotRule, Multiple } from '../input'
import { mostBelow, upToMultiple } from './order-size'

/** What is missing on a day, in days from the start of the plan on. Finest steps. */
export interface Requirement {
  readonly at: number
  readonly quantity: number
}

interface LeastCost {
  readonly rule: Extract<LotRule, { kind: 'least cost' }>
  readonly minimum: number
  readonly multiple: Multiple
}

/** Up to so many requirements every size that can matter is weighed; beyond, so many stocks are followed. */
const SHORT = 16
const LABELS = 3
/** How many later orders at a limit are reckoned with when one order is sized to come out even with them. */
const MOST_SUMS = 40

/**
 * Chooses orders that meet every requirement at the least total of order, holding and purchase cost: dynamic lot
 * sizing.
 *
 * Between two days on which stock runs out at most one order is of a size other than the minimum or the limit of a
 * price tier: shifting a multiple from one to another changes cost in a straight line until such a limit is met. So the
 * sizes tried are those limits, and what covers the need through some day, alone or together with later orders at a
 * limit. Without limits that is the recursion of Wagner and Whitin. Where prices rise with the quantity an order may
 * also come while there is stock; the least is then that of all plans that order on days of requirements. Of plans that
 * cost the same the one is taken that orders less sooner.
 *
 * Shape:  an order each, by day, never before the first requirement.
 * Units:  quantities in whole steps, as asked for: minimum and multiple are reckoned with and still to be applied;
 *         costs in the rule's unit of money; `span`: days, to whose end what is left is held. Cost:   quadratic in the
 *         requirements without limits; with limits exact for up to 16 requirements, and near the least (within a per
 *         cent in tests) beyond; there, prices are taken not to rise.
 * Source: H. M. Wagner, T. M. Whitin, Dynamic Version of the Economic Lot Size Model, Management Science 5 (1958); for
 *         limits: A. Federgruen,
 *         C.-Y. Lee, The dynamic lot size model with quantity discount, Naval Research Logistics 37 (1990), the idea
 *         from memory.
 */
export function leastCostOrders(
  needs: readonly Requirement[],
  span: number,
  { rule, minimum, multiple }: LeastCost,
): readonly Requirement[] {
  if (needs.length === 0) {
    return []
  }
  const tiers = [...(rule.tiers ?? [])].sort((a, b) => a.from - b.from)
  const sums = sumUp(needs, span)
  // A multiple of a whole number of steps, with all that is ever asked for far below 2^51: plain numbers are exact.
  const whole =
    multiple.denominator === '1' && multiple.numerator.length < 7 && sums.needed[needs.length]! + minimum < 2 ** 48
      ? Number(multiple.numerator)
      : 0
  /** An order is known by what is asked for; its size is that up to the multiple. */
  const up = (asked: number): number => {
    if (whole > 0) {
      return Math.ceil(asked / whole) * whole
    }
    if (asked === 0) {
      return 0
    }
    return upToMultiple(asked, multiple).quantity
  }
  const least = minimum
  const limits = [
    ...new Set([least, ...tiers.flatMap(({ from }) => [Math.max(from, least), mostBelow(from, multiple)])]),
  ]
    .filter((asked) => asked > 0 && asked >= least)
    .sort((a, b) => a - b)
  const plain = limits.length === 0 && multiple.numerator === multiple.denominator
  const prices = tiers.map((tier) => tier.price)
  const dearest = Math.max(0, ...prices)
  const isRising = prices.some((price, index) => index > 0 && price > prices[index - 1]!)
  const spread = prices.length > 0 ? dearest - Math.min(...prices) : 0
  // What rounding up to a multiple may add.
  const slack = 2 * up(1)
  if (plain) {
    return coverOrders(needs, () => rule.orderCost, rule.holdingCost)
  }
  const reach = Int32Array.from(needs, (_, index) => reachOf(index))
  return needs.length <= SHORT ? search() : beam()

  function priceOf(size: number): number {
    let price = tiers[0]?.price ?? 0
    for (const tier of tiers) {
      if (size >= tier.from) {
        price = tier.price
      }
    }
    return price * size
  }

  function costOf(size: number, left: number, index: number): number {
    const days = (needs[index + 1]?.at ?? span) - needs[index]!.at
    return (size > 0 ? rule.orderCost + priceOf(size) : 0) + rule.holdingCost * left * days
  }

  function search(): readonly Requirement[] {
    const states = needs.map(() => new Map<number, { cost: number; order: number }>())
    const together = sumsOf(limits.map(up), sums.needed[needs.length]!)
    /** The least cost from a requirement on, with so much there before it. */
    const best = (index: number, stock: number): number => {
      if (index === needs.length) {
        return 0
      }
      const known = states[index]!.get(stock)
      if (known) {
        return known.cost
      }
      const found = { cost: Infinity, order: 0 }
      // Smaller orders first: of equal costs the smaller stays.
      for (const order of candidates(index, stock, together)) {
        const left = stock + up(order) - needs[index]!.quantity
        const cost = costOf(up(order), left, index) + best(index + 1, left)
        if (cost < found.cost) {
          Object.assign(found, { cost, order })
        }
      }
      states[index]!.set(stock, found)
      return found.cost
    }
    best(0, 0)
    const orders: Requirement[] = []
    let stock = 0
    for (const [index, need] of needs.entries()) {
      const { order } = states[index]!.get(stock)!
      if (order > 0) {
        orders.push({ at: need.at, quantity: order })
      }
      stock += up(order) - need.quantity
    }
    return orders
  }

  /**
   * The same forwards, keeping only the most promising stocks before each requirement: cost so far, less what the stock
   * would cost to get.
   */
  function beam(): readonly Requirement[] {
    const plainCost = coverOrders(needs, () => rule.orderCost, rule.holdingCost).length * rule.orderCost
    const { needed, days, weighed } = sums
    const worth = (prices.length > 0 ? Math.min(...prices) : 0) + plainCost / needed[needs.length]!
    const sizes = limits.map(up)
    interface Label {
      readonly stock: number
      readonly cost: number
      readonly rank: number
      readonly order: number
      readonly at: number
      readonly from: Label | null
    }
    const labels: Label[][] = Array.from({ length: needs.length + 1 }, () => [])
    labels[0]!.push({ stock: 0, cost: 0, rank: 0, order: 0, at: 0, from: null })
    for (let index = 0; index < needs.length; index++) {
      for (const from of labels[index]!) {
        follow(index, from)
      }
    }
    const orders: Requirement[] = []
    for (
      let label = labels[needs.length]!.reduce((least, entry) => (entry.cost < least.cost ? entry : least));
      label.from !== null;
      label = label.from
    ) {
      orders.push({ at: label.at, quantity: label.order })
    }
    return orders.reverse()

    /**
     * Every order that can matter where stock runs out, smaller ones first: what covers through some day, and the
     * limits between.
     */
    function follow(index: number, from: Label): void {
      const had = needed[index]! + from.stock
      const wanted = needs[index]!.quantity - from.stock
      let next = index
      let limit = 0
      let before = 0
      for (let until = index; until < reach[index]! || limit < limits.length;) {
        const cover = until < reach[index]! ? Math.max(needed[until + 1]! - had, least) : Infinity
        const isLimit = limit < limits.length && limits[limit]! <= cover
        const order = isLimit ? limits[limit]! : cover
        const size = isLimit ? sizes[limit]! : up(cover)
        if (isLimit) {
          limit++
        } else {
          until++
        }
        if (size < wanted || size === before) {
          continue
        }
        before = size
        // On to where the stock no longer suffices; what is held till then in one go.
        const there = had + size
        while (next < needs.length && needed[next + 1]! <= there) {
          next++
        }
        const held = there * (days[next]! - days[index]!) - (weighed[next]! - weighed[index]!)
        const cost = from.cost + rule.orderCost + priceOf(size) + rule.holdingCost * held
        const stock = there - needed[next]!
        arrive(labels[next]!, { stock, cost, rank: cost - worth * stock, order, at: needs[index]!.at, from })
      }
    }

    function arrive(list: Label[], label: Label): void {
      let worst = 0
      for (let i = 0; i < list.length; i++) {
        if (list[i]!.stock === label.stock) {
          if (label.cost < list[i]!.cost) {
            list[i] = label
          }
          return
        }
        if (list[i]!.rank > list[worst]!.rank) {
          worst = i
        }
      }
      if (list.length < LABELS) {
        list.push(label)
      } else if (label.rank < list[worst]!.rank) {
        list[worst] = label
      }
    }
  }

  /**
   * Before which requirement every order from one on may end: covering further costs more than a second order on some
   * day between would, at whatever price.
   *
   * What is saved by a second order grows with what is covered faster than its cost where holding outweighs twice the
   * spread of prices: the first day that is too far is then found by halving.
   */
  function reachOf(index: number): number {
    const { needed } = sums
    let until = needs.length
    for (let second = index + 1; second < until; second++) {
      const held = rule.holdingCost * (needs[second]!.at - needs[index]!.at)
      // Both orders must reach the minimum; of the first requirement, stock may serve all but a step.
      if (held < 2 * spread || held === 0 || needed[second]! - needed[index + 1]! + 1 < least) {
        continue
      }
      const isTooFar = (last: number): boolean => {
        const after = needed[last + 1]! - needed[second]!
        return (
          after >= least &&
          (held - spread) * after >
            rule.orderCost + spread * (needed[last + 1]! - needed[index]! + slack) + (held + dearest) * slack
        )
      }
      if (!isTooFar(until - 1)) {
        continue
      }
      let first = second
      for (let last = until - 1; first < last;) {
        const middle = (first + last) >> 1
        if (isTooFar(middle)) {
          last = middle
        } else {
          first = middle + 1
        }
      }
      until = first
    }
    return Math.max(until, index + 1)
  }

  function candidates(index: number, stock: number, together: readonly number[]): readonly number[] {
    const wanted = needs[index]!.quantity - stock
    // Costs do not change over time: an order that could wait until stock runs out does. Not where a larger order would
    // be dearer.
    if (wanted <= 0 && !isRising) {
      return [0]
    }
    const asked: number[] = [...(wanted <= 0 ? [0] : []), ...limits.filter((limit) => up(limit) >= wanted)]
    // An order reaches only so far itself, in part into the requirement after; later ones at limits, with which it
    // comes out even, may end beyond. Where more at once is dearer, some of a far requirement may be worth having early
    // whatever it costs to hold.
    const furthest = isRising
      ? Infinity
      : sums.needed[Math.min(reach[index]! + 1, needs.length)]! - sums.needed[index]! - stock
    for (let until = index; until < needs.length; until++) {
      const through = sums.needed[until + 1]! - sums.needed[index]!
      for (const sum of together) {
        if (through - stock <= sum) {
          break
        }
        const entry = Math.max(through - stock - sum, least)
        if (through - stock - sum <= furthest && up(entry) >= wanted) {
          asked.push(entry)
        }
      }
    }
    asked.sort((a, b) => a - b)
    return asked.filter((entry, i) => i === 0 || up(entry) !== up(asked[i - 1]!))
  }
}

/**
 * Of the requirements before each: what they need in all, the days from the first one on, and each need in all by the
 * days until the next, so that what is held between two of them is a difference.
 */
function sumUp(
  needs: readonly Requirement[],
  span: number,
): { readonly needed: Float64Array; readonly days: Float64Array; readonly weighed: Float64Array } {
  const [needed, days, weighed] = [
    new Float64Array(needs.length + 1),
    new Float64Array(needs.length + 1),
    new Float64Array(needs.length + 1),
  ]
  for (let index = 0; index < needs.length; index++) {
    const until = (needs[index + 1]?.at ?? span) - needs[index]!.at
    needed[index + 1] = needed[index]! + needs[index]!.quantity
    days[index + 1] = days[index]! + until
    weighed[index + 1] = weighed[index]! + needed[index + 1]! * until
  }
  return { needed, days, weighed }
}

/**
 * Without limits every order covers whole requirements: from the last one backwards, through which day the order of
 * each would best cover. An order's cost may differ by day.
 */
export function coverOrders(
  needs: readonly Requirement[],
  orderCost: (day: number) => number,
  holdingCost: number,
): readonly Requirement[] {
  const best = new Float64Array(needs.length + 1)
  const through = new Int32Array(needs.length)
  for (let first = needs.length - 1; first >= 0; first--) {
    let held = 0
    best[first] = Infinity
    for (let last = first; last < needs.length; last++) {
      const kept = holdingCost * needs[last]!.quantity * (needs[last]!.at - needs[first]!.at)
      // Holding this one alone would cost more than an order for it: no order reaches further.
      if (kept > orderCost(needs[last]!.at)) {
        break
      }
      held += kept
      const cost = orderCost(needs[first]!.at) + held + best[last + 1]!
      if (cost < best[first]!) {
        best[first] = cost
        through[first] = last
      }
    }
  }
  const orders: { at: number; quantity: number }[] = []
  for (let first = 0; first < needs.length; first = through[first]! + 1) {
    orders.push({ at: needs[first]!.at, quantity: 0 })
    for (let k = first; k <= through[first]!; k++) {
      orders.at(-1)!.quantity += needs[k]!.quantity
    }
  }
  return orders
}

/** What several orders at limits come to, smallest first, below a total. */
function sumsOf(limits: readonly number[], total: number): readonly number[] {
  let sums = new Set([0])
  for (const limit of limits) {
    const next = new Set(sums)
    for (const sum of sums) {
      for (let n = 1; sum + n * limit < total && next.size < 4 * MOST_SUMS; n++) {
        next.add(sum + n * limit)
      }
    }
    sums = next
  }
  return [...sums].sort((a, b) => a - b).slice(0, MOST_SUMS)
}
