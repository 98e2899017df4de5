import fc from 'fast-check'
import highsLoader from 'highs'
import { describe, expect, it } from 'vitest'
import type { LotRule, PriceStep } from '../input'
import { coverOrders, leastCostOrders, type Requirement } from './least-cost'
import { splitOrder, upToMultiple } from './order-size'
import { sizeOfRule } from '../netting'
import { runs } from '../../../tests/property-runs'

const leastCost = (
  orderCost: number,
  holdingCost: number,
  tiers?: readonly PriceStep[],
): Extract<LotRule, { kind: 'least cost' }> => ({ kind: 'least cost', orderCost, holdingCost, tiers })
const needsOf = (demand: readonly number[]): Requirement[] =>
  demand.map((quantity, index) => ({ at: index, quantity })).filter((need) => need.quantity > 0)
const sizeOf = (asked: number, minimum: number, multiple: number): number =>
  upToMultiple(Math.max(asked, minimum), { numerator: String(multiple), denominator: '1' }).quantity

interface Case {
  readonly demand: readonly number[]
  readonly orderCost: number
  readonly holdingCost: number
  readonly minimum: number
  readonly multiple: number
  readonly tiers: readonly PriceStep[]
}

const priceOf = (tiers: readonly PriceStep[], size: number): number =>
  tiers.reduce((price, tier, i) => (i === 0 || size >= tier.from ? tier.price : price), 0)

/** What a choice of orders costs, added up day by day. */
function costOf(
  { demand, orderCost, holdingCost, minimum, multiple, tiers }: Case,
  orders: readonly Requirement[],
): number {
  const placed = new Map(orders.map((order) => [order.at, sizeOf(order.quantity, minimum, multiple)]))
  let [stock, cost] = [0, 0]
  for (let day = 0; day < demand.length; day++) {
    const size = placed.get(day) ?? 0
    stock += size - demand[day]!
    if (stock < 0) {
      throw new Error(`Short on day ${day}`)
    }
    cost += (size > 0 ? orderCost + size * priceOf(tiers, size) : 0) + holdingCost * stock
  }
  return cost
}
const choose = (c: Case): readonly Requirement[] =>
  leastCostOrders(needsOf(c.demand), c.demand.length, {
    rule: leastCost(c.orderCost, c.holdingCost, c.tiers),
    minimum: c.minimum,
    multiple: { numerator: String(c.multiple), denominator: '1' },
  })

describe('published examples', () => {
  it('Silver, Pyke and Peterson (1998), twelve months at 54 an order and 0.40 a unit and month: 501.20 (data from memory, the optimum re-computed)', () => {
    const demand = [10, 62, 12, 130, 154, 129, 88, 52, 124, 160, 238, 41]
    const c: Case = { demand, orderCost: 54, holdingCost: 0.4, minimum: 0, multiple: 1, tiers: [] }
    const orders = choose(c)
    expect(costOf(c, orders)).toBeCloseTo(501.2, 9)
    // Orders cover months 1–3, 4, 5–6, 7–8, 9, 10, 11–12.
    expect(orders.map((order) => [order.at + 1, order.quantity])).toEqual([
      [1, 84],
      [4, 130],
      [5, 283],
      [7, 140],
      [9, 124],
      [10, 160],
      [11, 279],
    ])
  })
  it('Wagner and Whitin (1958): 864, with a cost of its own for each month’s order (demands and costs from memory, the optimum re-computed)', () => {
    const demand = [69, 29, 36, 61, 61, 26, 34, 67, 45, 67, 79, 56]
    const costs = [85, 102, 102, 101, 98, 114, 105, 86, 119, 110, 98, 114]
    const orders = coverOrders(needsOf(demand), (month) => costs[month]!, 1)
    let [stock, total] = [0, 0]
    for (const [month, need] of demand.entries()) {
      const size = orders.find((o) => o.at === month)?.quantity ?? 0
      stock += size - need
      total += (size > 0 ? costs[month]! : 0) + stock
    }
    expect(total).toBe(864)
    expect(orders.map((order) => [order.at + 1, order.quantity])).toEqual([
      [1, 98],
      [3, 97],
      [5, 121],
      [8, 112],
      [10, 67],
      [11, 135],
    ])
  })
  it('orders ahead of need where twelve at once are dearer: 11, 11 and 13 for 98, not 2, 11 and 22 for 107', () => {
    // Orders 3 × 1; goods 11 × 1 + 11 × 1 + 13 × 4 = 74; held 10 + 11 = 21. All three at once needs 35 at 4.
    const demand = [1, 10, 24]
    const tiers = [
      { from: 0, price: 1 },
      { from: 12, price: 4 },
    ]
    const c: Case = { demand, orderCost: 1, holdingCost: 1, minimum: 0, multiple: 1, tiers }
    expect([costOf(c, choose(c)), choose(c)]).toEqual([
      98,
      [
        { at: 0, quantity: 11 },
        { at: 1, quantity: 11 },
        { at: 2, quantity: 13 },
      ],
    ])
  })
  it('sizes the first order by a later one at a limit, however far off: 16 and 29 for 568, not 15 and 30 for 573', () => {
    // 45 × 11 = 495; held 15 × 3 + 14 + 1 + 13 = 73. Thirty at once would be dearer.
    const demand = [1, 0, 0, 1, 13, 17, 13]
    const tiers = [
      { from: 0, price: 11 },
      { from: 30, price: 12 },
    ]
    const c: Case = { demand, orderCost: 0, holdingCost: 1, minimum: 15, multiple: 1, tiers }
    expect([costOf(c, choose(c)), choose(c)]).toEqual([
      568,
      [
        { at: 0, quantity: 16 },
        { at: 5, quantity: 29 },
      ],
    ])
  })
  it('orders part of a far requirement early where twelve at once are dearer: 5 and 11 for 138, not 1 and 15 for 143', () => {
    // Orders 2 × 1; goods 16 × 6 = 96; four held for ten days = 40.
    const demand = [1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 15]
    const tiers = [
      { from: 0, price: 6 },
      { from: 12, price: 9 },
    ]
    const c: Case = { demand, orderCost: 1, holdingCost: 1, minimum: 0, multiple: 1, tiers }
    expect([costOf(c, choose(c)), choose(c)]).toEqual([
      138,
      [
        { at: 0, quantity: 5 },
        { at: 10, quantity: 11 },
      ],
    ])
  })
  it.each([
    [1105, 300, 24, 166.2077],
    [1200, 54, 4.8, 164.3168],
  ])(
    'Harris (1913): %i a year, %i an order, %d to hold a unit for a year: %d, up to the next whole',
    (demand, orderCost, holdingCost, quantity) => {
      const gross = new Float64Array(365)
      gross[100] = demand
      expect(sizeOfRule({ kind: 'economic', orderCost, holdingCost }, gross, 365)).toBe(Math.ceil(quantity))
    },
  )
})

/** Price tiers whose prices come as `arrange` puts them. */
const tiersOf = (arrange: (prices: number[]) => number[]): fc.Arbitrary<Case['tiers']> =>
  fc
    .uniqueArray(fc.record({ from: fc.integer({ min: 1, max: 40 }), price: fc.integer({ min: 1, max: 12 }) }), {
      selector: (tier) => tier.from,
      maxLength: 2,
    })
    .chain((list) =>
      fc.integer({ min: 1, max: 12 }).map((first) => {
        const froms = list.map((tier) => tier.from).sort((a, b) => a - b)
        const prices = arrange([first, ...list.map((tier) => tier.price)])
        return list.length === 0 ? [] : [0, ...froms].map((from, i) => ({ from, price: prices[i]! }))
      }),
    )
/** The more is ordered at once, the less a unit costs. */
const falling = tiersOf((prices) => prices.sort((a, b) => b - a))
const inAnyOrder = tiersOf((prices) => prices)
const anyCase = (days: number, tiers = falling): fc.Arbitrary<Case> =>
  fc.record({
    demand: fc.array(fc.oneof(fc.constant(0), fc.integer({ min: 1, max: 20 })), { minLength: days, maxLength: days }),
    orderCost: fc.integer({ min: 0, max: 60 }),
    holdingCost: fc.integer({ min: 0, max: 4 }),
    minimum: fc.oneof(fc.constant(0), fc.integer({ min: 1, max: 25 })),
    multiple: fc.oneof(fc.constant(1), fc.integer({ min: 2, max: 7 })),
    tiers,
  })

/**
 * The same as a mixed-integer programme: a whole number of multiples an order and price tier, at most one tier a day.
 */
function programme(c: Case, { onlyWhereNeeded = false } = {}): string {
  const priced = c.tiers.length > 0 ? c.tiers : [{ from: 0, price: 0 }]
  const total = c.demand.reduce((a, b) => a + b, 0) + c.minimum + Math.max(...priced.map((t) => t.from)) + c.multiple
  const all = c.demand.flatMap((_, day) =>
    priced.map((tier, k) => ({ day, k, tier, last: (priced[k + 1]?.from ?? total * 2) - 1 })),
  )
  const cost = [
    ...all.flatMap(({ day, k, tier }) => [`${tier.price * c.multiple} x${day}_${k}`, `${c.orderCost} y${day}_${k}`]),
    ...c.demand.map((_, day) => `${c.holdingCost} s${day}`),
  ].join(' + ')
  const rows = [
    ...c.demand.map(
      (need, day) =>
        `${day > 0 ? `s${day - 1} + ` : ''}${priced.map((_, k) => `${c.multiple} x${day}_${k}`).join(' + ')} - s${day} = ${need}`,
    ),
    ...c.demand.map(
      (need, day) => `${priced.map((_, k) => `y${day}_${k}`).join(' + ')} <= ${onlyWhereNeeded && need === 0 ? 0 : 1}`,
    ),
    ...all.flatMap(({ day, k, tier, last }) => [
      `${c.multiple} x${day}_${k} - ${Math.max(c.minimum, tier.from, 1)} y${day}_${k} >= 0`,
      `${c.multiple} x${day}_${k} - ${Math.max(last, 0)} y${day}_${k} <= 0`,
    ]),
  ]
  return `Minimize\n obj: ${cost}\nSubject To\n${rows.map((row, i) => ` c${i}: ${row}`).join('\n')}\nGeneral\n ${all.map(({ day, k }) => `x${day}_${k}`).join(' ')}\nBinary\n ${all.map(({ day, k }) => `y${day}_${k}`).join(' ')}\nEnd`
}

describe('the least cost against HiGHS, a solver for mixed-integer programmes', () => {
  it('is the same in 200 random cases with price tiers, minimum quantities and multiples', async () => {
    const highs = await highsLoader()
    fc.assert(
      fc.property(anyCase(8), (c) => {
        fc.pre(c.demand.some((need) => need > 0))
        const solved = highs.solve(programme(c), { mip_rel_gap: 0, mip_abs_gap: 0 })
        expect(solved.Status).toBe('Optimal')
        expect(costOf(c, choose(c))).toBeCloseTo(solved.ObjectiveValue, 4)
      }),
      { numRuns: runs(200) },
    )
  })
  it('is the same in 200 random cases whose prices may rise with the quantity, ordered on days of need', async () => {
    const highs = await highsLoader()
    fc.assert(
      fc.property(anyCase(7, inAnyOrder), (c) => {
        fc.pre(c.demand.some((need) => need > 0))
        const solved = highs.solve(programme(c, { onlyWhereNeeded: true }), { mip_rel_gap: 0, mip_abs_gap: 0 })
        expect(solved.Status).toBe('Optimal')
        expect(costOf(c, choose(c))).toBeCloseTo(solved.ObjectiveValue, 4)
      }),
      { numRuns: runs(200) },
    )
  })
  it('stays within two per cent over forty days, where only the most promising stocks are followed', async () => {
    const highs = await highsLoader()
    let [ours, theirs] = [0, 0]
    fc.assert(
      fc.property(anyCase(40), (c) => {
        fc.pre(c.demand.filter((need) => need > 0).length > 16 && c.holdingCost > 0)
        const solved = highs.solve(programme(c), { mip_rel_gap: 0.001, time_limit: 3 })
        ours += costOf(c, choose(c))
        theirs += solved.ObjectiveValue
      }),
      { numRuns: 4, seed: 4 },
    )
    expect(ours / theirs).toBeLessThan(1.02)
  })
})

describe('sizing what is asked for', () => {
  const times = (n: number, d = 1): { numerator: string; denominator: string } => ({
    numerator: String(n),
    denominator: String(d),
  })
  it.each<[number, number, { numerator: string; denominator: string }, number | undefined, number[]]>([
    [5, 0, times(1), undefined, [5]],
    [5, 12, times(1), undefined, [12]],
    [5, 12, times(10), undefined, [20]],
    [25, 0, times(1), 10, [10, 10, 5]],
    [25, 4, times(4), 10, [8, 8, 8, 4]],
    [21, 6, times(1), 10, [10, 10, 6]],
    // A maximum below the minimum gives way to it.
    [9, 6, times(1), 4, [6, 6]],
    [1, 0, times(25, 3), undefined, [9]],
    [10, 0, times(25, 3), undefined, [17]],
    [20, 0, times(25, 3), 10, [9, 9, 9]],
  ])('%i asked, at least %i, by %j, at most %s: %j', (asked, minimum, multiple, maximum, parts) => {
    expect(splitOrder(asked, minimum, multiple, maximum).map((part) => part.quantity)).toEqual(parts)
  })
})
