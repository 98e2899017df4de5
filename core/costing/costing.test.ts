import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ratio, toText, ZERO } from '../units'
import { issue, lineValue, receive, shareOut, takeBack, type Holding } from '.'

const empty: Holding = { quantity: ZERO, value: 0n }

describe('moving average', () => {
  it('10 at 1.00 and 10 at 3.00 are worth 2.00 each; 5 of them 10.00 (hand arithmetic)', () => {
    const held = receive(receive(empty, ratio(10), 1000n), ratio(10), 3000n)
    const { value, rest } = issue(held, ratio(5))
    expect([value, toText(rest.quantity), rest.value]).toEqual([1000n, '15', 3000n])
  })
  it('the last unit takes the last cent: 3 for 1.00 go out at 0.33, 0.34, 0.33', () => {
    const values: bigint[] = []
    let held = receive(empty, ratio(3), 100n)
    for (let i = 0; i < 3; i++) { const out = issue(held, ratio(1)); values.push(out.value); held = out.rest }
    expect(values).toEqual([33n, 34n, 33n])
    expect(held).toEqual({ quantity: ZERO, value: 0n })
  })
  it('value is neither made nor lost (property)', () => {
    fc.assert(fc.property(fc.array(fc.tuple(fc.boolean(), fc.integer({ min: 1, max: 50 }), fc.bigInt(0n, 9999n)), { maxLength: 40 }), (steps) => {
      let held = empty
      let into = 0n
      let out = 0n
      for (const [isReceipt, quantity, value] of steps) {
        if (isReceipt) { held = receive(held, ratio(quantity), value); into += value }
        else if (held.quantity.compare(quantity) >= 0) { const taken = issue(held, ratio(quantity)); out += taken.value; held = taken.rest }
      }
      return into === out + held.value && held.value >= 0n && (!held.quantity.equals(ZERO) || held.value === 0n)
    }))
  })
})

describe('taking a receipt back', () => {
  it('restores quantity and value where nothing was used', () => {
    expect(takeBack(receive({ quantity: ratio(10), value: 1000n }, ratio(10), 3000n), ratio(10), 3000n)).toEqual({ value: 3000n, variance: 0n, rest: { quantity: ratio(10), value: 1000n } })
  })
  it('leaves no value behind without goods; the difference is a variance', () => {
    const used = issue(receive({ quantity: ratio(10), value: 1000n }, ratio(10), 3000n), ratio(10)).rest
    const back = takeBack(used, ratio(10), 3000n)
    expect([back.value, back.variance, back.rest.value]).toEqual([2000n, 1000n, 0n])
  })
})

describe('money of a line', () => {
  it.each([['40', '38.5', 154000n], ['1/3', '1', 33n], ['0.5', '0.01', 0n], ['1.5', '0.01', 2n]])('%s at %s is %s cents, ties to even', (quantity, price, value) => {
    expect(lineValue(ratio(quantity), ratio(price))).toBe(value)
  })
  it('shares add up, the rest on the last (property)', () => {
    expect(shareOut(100n, [ratio(1), ratio(1), ratio(1)])).toEqual([33n, 33n, 34n])
    fc.assert(fc.property(fc.bigInt(0n, 10n ** 9n), fc.array(fc.nat(20), { minLength: 1, maxLength: 9 }).filter(w => w.some(n => n > 0)), (total, weights) =>
      shareOut(total, weights.map(w => ratio(w))).reduce((a, b) => a + b, 0n) === total))
    expect(() => shareOut(1n, [ZERO])).toThrow()
  })
})
