import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { nearestEven, ratio, toText, type Ratio } from '../units/exact'
import { COST_METHODS, type CostMethod, type PoolState } from './cost-pool'
import { otherEnd } from './value-moves'
import type { RecordedMove } from './histories'
import { shareAmount } from '../sharing'
import { Ledger } from './ledger-of-tests'
import { runs } from '../../tests/property-runs'

const amounts = (moves: RecordedMove[] | 'lacked-then'): bigint[] =>
  (moves as RecordedMove[]).map((move) => move.amounts.value)

/** One item bought and sold, per method: what each sale cost, and what is left. */
function series(
  method: CostMethod,
  lines: readonly (readonly [day: string, quantity: number, price?: number])[],
  unit: Ratio | null = null,
): { sold: bigint[]; left: bigint } {
  const ledger = new Ledger(() => method, unit)
  const sold = lines.flatMap(([day, quantity, price]) => {
    const done = ledger.post(day, [
      price === undefined
        ? { quantity, from: 'a' }
        : { quantity, to: 'a', stated: BigInt(Math.round(quantity * price * 100)) },
    ])
    return price === undefined ? amounts(done) : []
  })
  expect(ledger.value('a')).toBe(ledger.pools.get('a')!.value)
  return { sold, left: ledger.value('a') }
}

describe('published series', () => {
  // Call-Mart Inc., perpetual system, in Kieso, Weygandt, Warfield, Intermediate Accounting, chapter on inventories;
  // figures from memory.
  const callMart = [
    ['2026-03-02', 2000, 4],
    ['2026-03-15', 6000, 4.4],
    ['2026-03-19', 4000],
    ['2026-03-30', 2000, 4.75],
  ] as const
  it.each([
    ['first in, first out', 16_800_00n, 27_100_00n],
    ['last in, first out', 17_600_00n, 26_300_00n],
    ['moving average', 17_200_00n, 26_700_00n],
  ] as const)('%s: cost of goods sold %d, ending inventory %d', (method, sold, left) => {
    expect(series(method, callMart)).toEqual({ sold: [sold], left })
  })
  // IAS 2.27: FIFO assigns to what is left the most recent costs; the weighted average is worked out as each shipment
  // is received.
  it('first in, first out leaves the most recent costs; an average is worked out with each receipt (IAS 2.27)', () => {
    const bought = [
      ['2026-01-01', 10, 1],
      ['2026-01-02', 10, 2],
      ['2026-01-03', 12],
      ['2026-01-04', 4, 5],
      ['2026-01-05', 6],
    ] as const
    expect(series('first in, first out', bought)).toEqual({ sold: [1400n, 1200n], left: 2400n })
    // 20 at 1.50; 8 left (12.00) and 4 at 5.00 (20.00) are 12 at 2.6667
    expect(series('moving average', bought)).toEqual({ sold: [1800n, 1600n], left: 1600n })
  })
  it('standard: stock stands at the standard, whatever was paid (common practice, no source)', () => {
    expect(
      series(
        'standard',
        [
          ['2026-01-01', 10, 1.1],
          ['2026-01-02', 4],
          ['2026-01-03', 10, 0.9],
        ],
        ratio(100),
      ),
    ).toEqual({ sold: [400n], left: 1600n })
  })
  it('latest purchase: stock stands at the last price paid (common practice, no source)', () => {
    expect(
      series('latest purchase', [
        ['2026-01-01', 10, 1],
        ['2026-01-02', 4],
        ['2026-01-03', 10, 3],
        ['2026-01-04', 1],
      ]),
    ).toEqual({ sold: [400n, 300n], left: 4500n })
  })
})

/** One thing that is entered: bought, moved from a to b, or sold. */
const entry = fc.record({
  kind: fc.constantFrom('buy', 'buy', 'move', 'sell'),
  day: fc.integer({ min: 1, max: 9 }),
  at: fc.constantFrom('a', 'b'),
  quantity: fc.integer({ min: 1, max: 9 }),
  price: fc.integer({ min: 1, max: 500 }),
})
type Entry = typeof entry extends fc.Arbitrary<infer T> ? T : never
const enter = (ledger: Ledger, { kind, day, at, quantity, price }: Entry): RecordedMove[] | 'lacked-then' => {
  const on = `2026-01-0${day}`
  if (kind === 'buy') {
    return ledger.post(on, [{ quantity, to: at, stated: BigInt(quantity * price) }])
  }
  return kind === 'move'
    ? ledger.post(on, [{ quantity, from: at, to: at === 'a' ? 'b' : 'a' }])
    : ledger.post(on, [{ quantity, from: at }])
}

describe('in whatever order it is entered', () => {
  it.each(COST_METHODS)(
    '%s: ends in the same values as entered day by day, also after invoices (property)',
    (method) => {
      const invoices = fc.array(fc.tuple(fc.nat(), fc.integer({ min: 0, max: 5000 })), { minLength: 1, maxLength: 5 })
      fc.assert(
        fc.property(
          fc.array(entry, { minLength: 1, maxLength: 12 }),
          fc.array(invoices, { maxLength: 3 }),
          (all, late) => {
            const asEntered = new Ledger(() => method, ratio(100))
            // What is not there on its day yet waits until it is; what never is, is left out.
            const taken: Entry[] = []
            let waiting: readonly Entry[] = all
            for (let before = -1; before !== waiting.length;) {
              before = waiting.length
              waiting = waiting.filter((one) => {
                const done = enter(asEntered, one)
                if (done !== 'lacked-then') {
                  taken.push(one)
                }
                return done === 'lacked-then'
              })
            }
            const byDay = new Ledger(() => method, ratio(100))
            const order = taken.map((one, i) => ({ one, i })).sort((x, y) => x.one.day - y.one.day || x.i - y.i)
            const idByPlace = new Map<number, string>()
            for (const { one, i } of order) {
              idByPlace.set(i, (enter(byDay, one) as RecordedMove[])[0]!.id)
            }
            const own = taken.map((_, i) => ({ there: asEntered.moves[i]!.id, here: idByPlace.get(i)! }))
            const bought = own.filter((_, i) => taken[i]!.kind === 'buy')
            for (const invoice of bought.length > 0 ? late : []) {
              const lines = new Map(invoice.map(([n, stated]) => [bought[n % bought.length]!, BigInt(stated)]))
              asEntered.invoices([...lines].map(([move, stated]) => [move.there, stated] as const))
              byDay.invoices([...lines].reverse().map(([move, stated]) => [move.here, stated] as const))
            }
            const amountsOf = (ledger: Ledger, id: string) => ledger.moves.find((move) => move.id === id)!.amounts
            expect(own.map((move) => amountsOf(asEntered, move.there))).toEqual(
              own.map((move) => amountsOf(byDay, move.here)),
            )
            for (const [pool, state] of byDay.pools) {
              const other = asEntered.pools.get(pool)!
              expect([pool, other.value, toText(other.quantity)]).toEqual([pool, state.value, toText(state.quantity)])
              expect([pool, asEntered.value(pool)]).toEqual([pool, other.value])
            }
          },
        ),
        { numRuns: runs(600) },
      )
    },
  )
})

describe('what comes late', () => {
  it('an invoice follows the goods into what was built and sold: 10 at 2.00 turn out to cost 3.00', () => {
    const ledger = new Ledger(() => 'moving average')
    ledger.post('2026-01-01', [{ quantity: 10, to: 'wood', stated: 2000n }])
    // 6 of them and work of 3.00 make 3 chairs; one is sold.
    ledger.post(
      '2026-01-02',
      [
        { quantity: 6, from: 'wood', job: 'own' },
        { quantity: 3, to: 'chair', basis: 'share', job: 'own', weight: 3 },
      ],
      300n,
    )
    ledger.post('2026-01-03', [{ quantity: 1, from: 'chair' }])
    ledger.invoice('1.0', 3000n)
    expect(ledger.moves.map((move) => move.amounts.value)).toEqual([3000n, 1800n, 2100n, 700n])
    expect([ledger.value('wood'), ledger.value('chair')]).toEqual([1200n, 1400n])
  })
  it('a receipt entered late goes before what left after it', () => {
    const ledger = new Ledger(() => 'first in, first out')
    ledger.post('2026-01-05', [{ quantity: 10, to: 'a', stated: 2000n }])
    ledger.post('2026-01-09', [{ quantity: 5, from: 'a' }])
    ledger.post('2026-01-02', [{ quantity: 4, to: 'a', stated: 400n }])
    // 4 at 1.00 and 1 at 2.00
    expect(ledger.moves[1]!.amounts.value).toBe(600n)
    expect(ledger.value('a')).toBe(1800n)
  })
  it.each(['moving average', 'first in, first out', 'last in, first out'] as const)(
    '%s: an invoice for receipts that were entered in another order than that of their days',
    (method) => {
      const ledger = new Ledger(() => method)
      ledger.post('2026-01-04', [{ quantity: 10, to: 'a', stated: 1000n }])
      ledger.post('2026-01-02', [{ quantity: 10, to: 'a', stated: 1000n }])
      // Twenty for 40.00.
      ledger.invoices([
        ['1.0', 2000n],
        ['2.0', 2000n],
      ])
      expect([ledger.value('a'), ledger.pools.get('a')!.value]).toEqual([4000n, 4000n])
    },
  )
  it('an invoice for receipts at two sites, with a move between them in between', () => {
    const ledger = new Ledger(() => 'first in, first out')
    ledger.post('2026-01-09', [{ quantity: 10, to: 'b', stated: 1000n }])
    ledger.post('2026-01-02', [{ quantity: 10, to: 'a', stated: 1000n }])
    ledger.post('2026-01-05', [{ quantity: 4, from: 'a', to: 'b' }])
    ledger.invoices([
      ['1.0', 3000n],
      ['2.0', 2000n],
    ])
    expect([ledger.value('a'), ledger.value('b')]).toEqual([1200n, 3800n])
    expect([ledger.pools.get('b')!.value, toText(ledger.pools.get('b')!.quantity)]).toEqual([3800n, '14'])
  })
  it('an issue entered late is refused where the goods were not there yet', () => {
    const ledger = new Ledger(() => 'moving average')
    ledger.post('2026-01-05', [{ quantity: 10, to: 'a', stated: 2000n }])
    expect(ledger.post('2026-01-04', [{ quantity: 1, from: 'a' }])).toBe('lacked-then')
    ledger.post('2026-01-06', [{ quantity: 10, from: 'a' }])
    expect(ledger.post('2026-01-05', [{ quantity: 1, from: 'a' }])).toBe('lacked-then')
  })
  it('goods on their way carry the difference to the other site', () => {
    const ledger = new Ledger((pool) => (pool.startsWith('store') ? 'first in, first out' : 'moving average'))
    ledger.post('2026-01-01', [{ quantity: 10, to: 'home', stated: 1000n }])
    ledger.post('2026-01-02', [{ quantity: 8, from: 'home', to: 'way' }])
    ledger.post('2026-01-03', [{ quantity: 6, from: 'way', to: 'store' }])
    ledger.post('2026-01-04', [{ quantity: 3, from: 'store' }])
    ledger.invoice('1.0', 2000n)
    expect(['home', 'way', 'store'].map((pool) => ledger.value(pool))).toEqual([400n, 400n, 600n])
    expect(ledger.moves.at(-1)!.amounts.value).toBe(600n)
  })
  it('a late invoice of goods at standard changes nothing but the variance', () => {
    const ledger = new Ledger(() => 'standard', ratio(150))
    ledger.post('2026-01-01', [{ quantity: 10, to: 'a', stated: 2000n }])
    ledger.post('2026-01-02', [{ quantity: 4, from: 'a' }])
    ledger.invoice('1.0', 1900n)
    expect(ledger.moves.map((move) => move.amounts)).toEqual([
      { value: 1500n, variance: 400n, restated: 0n },
      { value: 600n, variance: 0n, restated: 0n },
    ])
  })
  it('a new standard re-values what is there that morning, and a receipt entered late is re-valued too', () => {
    const ledger = new Ledger(() => 'standard', ratio(100))
    ledger.post('2026-01-01', [{ quantity: 10, to: 'a', stated: 1000n }])
    ledger.standards.set('a', [{ posting: 0, day: '2026-01-05', unit: ratio(120), gained: 0n }])
    ledger.run([{ pool: 'a', from: null }])
    expect([ledger.value('a'), ledger.standards.get('a')![0]!.gained]).toEqual([1200n, 200n])
    ledger.post('2026-01-04', [{ quantity: 5, to: 'a', stated: 500n }])
    expect([ledger.value('a'), ledger.standards.get('a')![0]!.gained, ledger.pools.get('a')!.value]).toEqual([
      1800n,
      300n,
      1800n,
    ])
  })
})

describe('reversal', () => {
  it.each(COST_METHODS)('%s: an issue taken back restores quantity, value and layers', (method) => {
    const ledger = new Ledger(() => method, method === 'standard' ? ratio(150) : null)
    ledger.post('2026-01-01', [{ quantity: 10, to: 'a', stated: 1000n }])
    ledger.post('2026-01-02', [{ quantity: 10, to: 'a', stated: 2000n }])
    const before = ledger.pools.get('a')!
    ledger.post('2026-01-03', [{ quantity: 14, from: 'a' }])
    ledger.reverse(3, '2026-01-04')
    expect(plain(ledger.pools.get('a')!)).toEqual(plain(before))
  })
  it.each(COST_METHODS)('%s: a receipt taken back restores quantity, value, layers and price', (method) => {
    const ledger = new Ledger(() => method, method === 'standard' ? ratio(150) : null)
    ledger.post('2026-01-01', [{ quantity: 10, to: 'a', stated: 1000n }])
    const before = ledger.pools.get('a')!
    ledger.post('2026-01-02', [{ quantity: 10, to: 'a', stated: 2000n }])
    ledger.reverse(2, '2026-01-04')
    expect(plain(ledger.pools.get('a')!)).toEqual(plain(before))
    expect(otherEnd(ledger.moves[1]!.amounts)).toBe(otherEnd(ledger.moves[2]!.amounts))
  })
  it('a receipt taken back after part of it was used leaves a variance, not value without goods', () => {
    const ledger = new Ledger(() => 'first in, first out')
    ledger.post('2026-01-01', [{ quantity: 10, to: 'a', stated: 1000n }])
    ledger.post('2026-01-02', [{ quantity: 10, to: 'a', stated: 3000n }])
    ledger.post('2026-01-03', [{ quantity: 6, from: 'a' }])
    ledger.reverse(1, '2026-01-04')
    // 4 left at 1.00 and 6 at 3.00 go out; the supplier takes 10.00 back
    expect(ledger.moves[3]!.amounts).toEqual({ value: 2200n, variance: -1200n, restated: 0n })
    expect(ledger.value('a')).toBe(1200n)
  })
})

const plain = (state: PoolState): object => ({
  ...state,
  quantity: toText(state.quantity),
  unit: state.unit && toText(state.unit),
  layers: state.layers.map((layer) => ({ ...layer, quantity: toText(layer.quantity) })),
})

describe('random ledgers', () => {
  const POOLS = ['a', 'b', 'c', 'd', 'e']
  const act = fc.record({
    kind: fc.constantFrom('buy', 'buy', 'sell', 'build', 'transfer', 'found', 'invoice', 'reverse'),
    pool: fc.nat(4),
    other: fc.nat(4),
    day: fc.integer({ min: 1, max: 9 }),
    quantity: fc.integer({ min: 1, max: 12 }),
    money: fc.bigInt(0n, 9999n),
    pick: fc.nat(99),
  })
  /** Carries acts out; days run on unless an act is entered late. */
  function carryOut(
    acts: readonly {
      kind: string
      pool: number
      other: number
      day: number
      quantity: number
      money: bigint
      pick: number
    }[],
    methods: readonly CostMethod[],
  ): Ledger {
    const ledger = new Ledger((pool) => methods[POOLS.indexOf(pool)]!, ratio(250))
    const reversed = new Set<number>()
    for (const { kind, pool, other: otherPool, day, quantity, money, pick } of acts) {
      const [from, to, date] = [POOLS[pool]!, POOLS[otherPool]!, `2026-01-0${day}`]
      if (kind === 'buy') {
        ledger.post(date, [{ quantity, to: from, stated: money }])
      }
      if (kind === 'sell') {
        ledger.post(date, [{ quantity, from }])
      }
      if (kind === 'found') {
        ledger.post(date, [{ quantity, to: from, basis: 'average', isPurchasePrice: false }])
      }
      if (kind === 'transfer' && from !== to) {
        ledger.post(date, [{ quantity, from, to, isPurchasePrice: false }])
      }
      if (kind === 'build' && from !== to) {
        ledger.post(
          date,
          [
            { quantity, from, job: 'own' },
            { quantity: 2, to, basis: 'share', job: 'own', weight: 2 },
            { quantity: 1, to: POOLS[(otherPool + 1) % 5]!, basis: 'share', job: 'own', weight: 1 },
          ],
          money,
        )
      }
      const bought = ledger.moves.filter((move) => move.basis === 'stated')
      if (kind === 'invoice' && bought.length > 0) {
        ledger.invoice(bought[pick % bought.length]!.id, money)
      }
      const last = ledger.moves.at(-1)
      const may = ledger.moves.filter((move) => move.basis !== 'back' && !reversed.has(move.posting))
      // An act is taken back on the last day of all, so that nothing is taken back before it was done.
      if (kind === 'reverse' && last && may.length > 0) {
        const { posting } = may[pick % may.length]!
        if (ledger.reverse(posting, '2026-01-10') !== 'lacked-then') {
          reversed.add(posting)
        }
      }
    }
    return ledger
  }
  const methods = fc.array(fc.constantFrom(...COST_METHODS), { minLength: 5, maxLength: 5 })

  it('what each pool holds equals its moves, layers add up, work passes through whole (500 ledgers of all five methods)', () => {
    fc.assert(
      fc.property(fc.array(act, { maxLength: 40 }), methods, (acts, chosen) => {
        const ledger = carryOut(acts, chosen)
        for (const [key, state] of ledger.pools) {
          expect(ledger.value(key)).toBe(state.value)
          const quantity = ledger.moves.reduce(
            (sum, move) => sum.add(move.to === key ? move.quantity : 0).sub(move.from === key ? move.quantity : 0),
            ratio(0),
          )
          expect(toText(state.quantity)).toBe(toText(quantity))
          expect(state.quantity.compare(0)).toBeGreaterThanOrEqual(0)
          expect(state.value).toBeGreaterThanOrEqual(0n)
          if (state.quantity.equals(0)) {
            expect(state.value).toBe(0n)
          }
          if (state.method === 'standard' || state.method === 'latest purchase') {
            expect(state.value).toBe(state.unit === null ? 0n : nearestEven(state.unit.mul(state.quantity)))
          }
          if (state.method.endsWith('first out')) {
            expect(state.layers.every((layer) => layer.quantity.compare(0) > 0 && layer.value >= 0n)).toBe(true)
            expect(state.layers.reduce((sum, layer) => sum + layer.value, 0n)).toBe(state.value)
          }
        }
        for (const [posting, work] of ledger.work) {
          const own = ledger.moves.filter((move) => move.posting === posting)
          if (own.some((move) => move.basis === 'share')) {
            expect(own.reduce((sum, move) => sum + (move.to === null ? 1n : -1n) * otherEnd(move.amounts), work)).toBe(
              0n,
            )
          }
        }
      }),
      { numRuns: runs(500) },
    )
  })

  it('the order of entering does not matter: late entries end where a ledger written in order ends (a naive re-computation, 500 ledgers)', () => {
    fc.assert(
      fc.property(
        fc.array(
          act.filter((entry) => entry.kind !== 'reverse'),
          { maxLength: 30 },
        ),
        methods,
        (acts, chosen) => {
          const ledger = carryOut(acts, chosen)
          const naive = inOrderFromScratch(ledger, chosen)
          expect(ledger.moves.map((move) => [move.id, move.amounts.value, otherEnd(move.amounts)])).toEqual(
            ledger.moves.map((move) => [move.id, ...naive.get(move.id)!]),
          )
        },
      ),
      { numRuns: runs(500) },
    )
  })

  interface PlainPool {
    quantity: number
    value: bigint
    unit: Ratio | null
    batches: { quantity: number; value: bigint }[]
  }
  const partOf = (value: bigint, quantity: number, whole: number): bigint =>
    quantity === whole ? value : nearestEven(ratio(value).mul(quantity).div(whole))
  /** What leaves a pool is worth, by its method; of the batches it takes those that it is from. */
  function takenOut(pool: PlainPool, method: CostMethod, quantity: number): bigint {
    if (method === 'moving average') {
      return partOf(pool.value, quantity, pool.quantity)
    }
    if (method === 'standard' || method === 'latest purchase') {
      return pool.value - nearestEven(pool.unit!.mul(pool.quantity - quantity))
    }
    let out = 0n
    for (let left = quantity; left > 0;) {
      const batch = method === 'first in, first out' ? pool.batches[0]! : pool.batches.at(-1)!
      const part = Math.min(left, batch.quantity)
      const value = partOf(batch.value, part, batch.quantity)
      out += value
      left -= part
      batch.quantity -= part
      batch.value -= value
      pool.batches = pool.batches.filter((entry) => entry.quantity > 0)
    }
    return out
  }
  function worthIn(pool: PlainPool, quantity: number): bigint {
    if (pool.unit !== null) {
      return nearestEven(pool.unit.mul(quantity))
    }
    return pool.quantity === 0 ? 0n : partOf(pool.value, quantity, pool.quantity)
  }

  /**
   * The whole ledger once more in the order of its days, by the plainest means, without pools, generators or
   * differences.
   */
  function inOrderFromScratch(ledger: Ledger, chosen: readonly CostMethod[]): Map<string, [bigint, bigint]> {
    const held = new Map(
      POOLS.map((key, index) => [
        key,
        {
          quantity: 0,
          value: 0n,
          unit: chosen[index] === 'standard' ? ratio(250) : null,
          batches: [],
        } as PlainPool,
      ]),
    )
    const found = new Map<string, [bigint, bigint]>()
    const sorted = [...ledger.moves].sort(
      (a, b) =>
        a.day.localeCompare(b.day) ||
        a.posting - b.posting ||
        Number(a.from === null) - Number(b.from === null) ||
        a.line - b.line,
    )
    for (const move of sorted) {
      const quantity = Number(toText(move.quantity))
      let out: bigint | null = null
      if (move.from !== null) {
        const pool = held.get(move.from)!
        out = takenOut(pool, chosen[POOLS.indexOf(move.from)]!, quantity)
        pool.quantity -= quantity
        pool.value -= out
      }
      if (move.to === null) {
        found.set(move.id, [out!, out!])
        continue
      }
      const pool = held.get(move.to)!
      const method = chosen[POOLS.indexOf(move.to)]!
      const own = ledger.moves.filter((entry) => entry.posting === move.posting)
      const sharing = own.filter((entry) => entry.basis === 'share')
      let given = out
      if (given === null && move.basis === 'stated') {
        given = move.stated
      }
      if (given === null && move.basis === 'average') {
        given = worthIn(pool, quantity)
      }
      given ??= shareAmount(
        own
          .filter((entry) => entry.to === null)
          .reduce((sum, entry) => sum + found.get(entry.id)![1], ledger.work.get(move.posting)!),
        sharing.map((move) => move.weight),
      )[sharing.findIndex((entry) => entry.id === move.id)]!
      if (method === 'latest purchase' && (move.isPurchasePrice || pool.unit === null)) {
        pool.unit = ratio(given).div(quantity)
        pool.value = nearestEven(pool.unit.mul(pool.quantity))
      }
      const value =
        method === 'standard' || method === 'latest purchase'
          ? nearestEven(pool.unit!.mul(pool.quantity + quantity)) - pool.value
          : given
      pool.quantity += quantity
      pool.value += value
      pool.batches.push({ quantity, value })
      found.set(move.id, [value, given])
    }
    return found
  }
})
