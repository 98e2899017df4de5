import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ratio, toText, ZERO } from '../units/exact'
import { CostPool, emptyPool } from './cost-pool'
import { lineValue } from './moving-average'

const averaged = (...receipts: readonly (readonly [quantity: number, given: bigint])[]): CostPool => {
  const pool = new CostPool(emptyPool('moving average'))
  receipts.forEach(([quantity, given], index) =>
    pool.enter({ id: `${index}`, on: '2026-01-01', quantity: ratio(quantity), given, isPurchasePrice: true }),
  )
  return pool
}
const state = (pool: CostPool): [string, bigint] => [toText(pool.state.quantity), pool.state.value]

describe('moving average', () => {
  it('10 at 1.00 and 10 at 3.00 are worth 2.00 each; 5 of them 10.00 (hand arithmetic)', () => {
    const pool = averaged([10, 1000n], [10, 3000n])
    expect([pool.worthOf(ratio(5)), pool.leave({ id: 'x', quantity: ratio(5) }).value, ...state(pool)]).toEqual([
      1000n,
      1000n,
      '15',
      3000n,
    ])
  })
  it('the last unit takes the last cent: 3 for 1.00 go out at 0.33, 0.34, 0.33', () => {
    const pool = averaged([3, 100n])
    expect([1, 2, 3].map((i) => pool.leave({ id: `${i}`, quantity: ratio(1) }).value)).toEqual([33n, 34n, 33n])
    expect(state(pool)).toEqual(['0', 0n])
  })
  it('says beforehand whether a quantity is there', () => {
    expect([averaged([3, 1n]).lacks(ratio(3)), averaged([3, 1n]).lacks(ratio('3.001'))]).toEqual([false, true])
  })
  it('value is neither made nor lost (property)', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.boolean(), fc.integer({ min: 1, max: 50 }), fc.bigInt(0n, 9999n)), { maxLength: 40 }),
        (steps) => {
          const pool = averaged()
          let into = 0n
          let out = 0n
          for (const [isReceipt, quantity, value] of steps) {
            if (isReceipt) {
              into += pool.enter({
                id: '',
                on: '',
                quantity: ratio(quantity),
                given: value,
                isPurchasePrice: true,
              }).value
            } else if (!pool.lacks(ratio(quantity))) {
              out += pool.leave({ id: '', quantity: ratio(quantity) }).value
            }
          }
          const held = pool.state
          return into === out + held.value && held.value >= 0n && (!held.quantity.equals(ZERO) || held.value === 0n)
        },
      ),
    )
  })
})

describe('taking a receipt back', () => {
  it('restores quantity and value where nothing was used', () => {
    const pool = averaged([10, 1000n], [10, 3000n])
    expect(pool.takeBack({ id: 'b', of: '1', quantity: ratio(10), given: 3000n })).toEqual({
      value: 3000n,
      variance: 0n,
      restated: 0n,
    })
    expect(state(pool)).toEqual(['10', 1000n])
  })
  it('leaves no value behind without goods; the difference is a variance', () => {
    const pool = averaged([10, 1000n], [10, 3000n])
    pool.leave({ id: 'x', quantity: ratio(10) })
    expect(pool.takeBack({ id: 'b', of: '1', quantity: ratio(10), given: 3000n })).toEqual({
      value: 2000n,
      variance: 1000n,
      restated: 0n,
    })
    expect(state(pool)).toEqual(['0', 0n])
  })
})

describe('layers', () => {
  // In: 2 at 1.00, 1 at 2.50, 1 at 2.50, 1 at 2.00. Out: 1, then 2.
  it.each([
    ['first in, first out', [100n, 350n], 450n],
    ['last in, first out', [200n, 500n], 200n],
  ] as const)('%s', (method, taken, left) => {
    const pool = new CostPool(emptyPool(method))
    for (const [id, quantity, given] of [
      ['a', 2, 200n],
      ['b', 1, 250n],
      ['c', 1, 250n],
      ['d', 1, 200n],
    ] as const) {
      pool.enter({ id, on: '2026-01-01', quantity: ratio(quantity), given, isPurchasePrice: true })
    }
    expect([1, 2].map((q) => pool.leave({ id: `${q}`, quantity: ratio(q) }).value)).toEqual(taken)
    expect(pool.state.value).toBe(left)
  })
  it('more than the layers hold is a broken promise of the ledger', () => {
    expect(() => new CostPool(emptyPool('first in, first out')).leave({ id: 'x', quantity: ratio(1) })).toThrow(
      '1 too much',
    )
  })
})

describe('money of a line', () => {
  it.each([
    ['40', '38.5', 154000n],
    ['1/3', '1', 33n],
    ['0.5', '0.01', 0n],
    ['1.5', '0.01', 2n],
  ])('%s at %s is %s cents, ties to even', (quantity, price, value) => {
    expect(lineValue(ratio(quantity), ratio(price))).toBe(value)
  })
})
