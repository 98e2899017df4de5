import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ratio, toText } from '../../units/exact'
import { buyingQuantity, orderable, timesFor } from '.'

describe('what a purchase order says for a planned order', () => {
  // asked for, in the supplier's unit · multiple · how often the plan took it · by hand
  it.each([
    ['60', '25', 3, '75'],
    ['13.2', '13.2', 1, '13.2'],
    ['60', '25', 0, '60'],
    ['60', '0', 3, '60'],
    ['1/3', '0.5', 1, '0.5'],
  ])('%s asked, by %s, %i times: %s', (asked, multiple, times, said) => {
    expect(toText(buyingQuantity({ asked: ratio(asked), multiple: ratio(multiple), times }))).toBe(said)
  })
})

describe('how often a break-down is done', () => {
  it.each([
    ['100', '25', '4'],
    ['101', '25', '5'],
    ['0.1', '25', '1'],
    ['1', '1/3', '3'],
  ])('for %s, of %s each: %s times', (wanted, each, times) => {
    expect(toText(timesFor(ratio(wanted), ratio(each)))).toBe(times)
  })

  it('brings enough, and once less would not (property)', () => {
    const amount = fc.integer({ min: 1, max: 1_000_000 })
    fc.assert(
      fc.property(amount, amount, amount, (wanted, each, denominator) => {
        const [asked, one] = [ratio(wanted), ratio(BigInt(each), BigInt(denominator))]
        const times = timesFor(asked, one)
        expect(times.mul(one).compare(asked)).toBeGreaterThanOrEqual(0)
        expect(times.sub(1).mul(one).compare(asked)).toBeLessThan(0)
      }),
    )
  })
})

it.each([
  ['3', '10', '5', '10'],
  ['11', '10', '5', '15'],
  ['11', '0', '0', '11'],
  ['0.5', '0', '1/3', '2/3'],
])('%s asked, at least %s, by %s: %s may be ordered', (asked, minimum, multiple, expected) => {
  expect(orderable(ratio(asked), ratio(minimum), ratio(multiple)).equals(ratio(expected))).toBe(true)
})
