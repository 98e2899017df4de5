import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ratio, ZERO } from '../units/exact'
import { shareAmount, shareByLargestRemainder } from './share'

const sum = (parts: readonly bigint[]): bigint => parts.reduce((a, b) => a + b, 0n)

describe('by largest remainder', () => {
  // Hamilton's apportionment of 120 seats by the census of 1790, the bill that Washington vetoed in 1792
  // (Balinski & Young, Fair Representation, table 3.1; written down from memory).
  it('shares 120 seats among fifteen states as Hamilton did', () => {
    const populations = [
      630_560n, // Virginia
      475_327n, // Massachusetts
      432_879n, // Pennsylvania
      353_523n, // North Carolina
      331_589n, // New York
      278_514n, // Maryland
      236_841n, // Connecticut
      206_236n, // South Carolina
      179_570n, // New Jersey
      141_822n, // New Hampshire
      85_533n, // Vermont
      70_835n, // Georgia
      68_705n, // Kentucky
      68_446n, // Rhode Island
      55_540n, // Delaware
    ]
    const seats = [21n, 16n, 14n, 12n, 11n, 9n, 8n, 7n, 6n, 5n, 3n, 2n, 2n, 2n, 2n]
    expect(shareByLargestRemainder(120n, populations)).toEqual(seats)
  })

  it.each([
    [10n, [1n, 1n, 1n], [4n, 3n, 3n]],
    [7n, [0n, 0n], [4n, 3n]],
    [5n, [], []],
    [0n, [3n, 1n], [0n, 0n]],
  ] as const)('%s by [%s]', (total, weights, shares) => {
    expect(shareByLargestRemainder(total, weights)).toEqual(shares)
  })

  it('adds up, and each part is within one step of its share (property)', () => {
    const weights = fc.array(fc.bigInt(0n, 10n ** 12n), { minLength: 1, maxLength: 12 })
    fc.assert(
      fc.property(fc.bigInt(0n, 10n ** 15n), weights, (total, given) => {
        const shares = shareByLargestRemainder(total, given)
        expect(sum(shares)).toBe(total)
        const whole = sum(given)
        shares.forEach((share, index) => {
          const exact = whole === 0n ? total : total * given[index]!
          const scaled = share * (whole === 0n ? BigInt(given.length) : whole)
          const unit = whole === 0n ? BigInt(given.length) : whole
          expect(scaled > exact - unit && scaled < exact + unit).toBe(true)
        })
      }),
    )
  })
})

describe('an amount of money', () => {
  it('leaves the rest on the last line', () => {
    expect(shareAmount(100n, [ratio(1), ratio(1), ratio(1)])).toEqual([33n, 33n, 34n])
    expect(shareAmount(100n, [ratio(1), ratio(2), ratio(0)])).toEqual([33n, 67n, 0n])
  })

  it('adds up (property)', () => {
    const weights = fc.array(fc.nat(20), { minLength: 1, maxLength: 9 }).filter((some) => some.some((n) => n > 0))
    fc.assert(
      fc.property(fc.bigInt(0n, 10n ** 9n), weights, (total, given) => {
        const shares = shareAmount(
          total,
          given.map((weight) => ratio(weight)),
        )
        expect(sum(shares)).toBe(total)
      }),
    )
  })

  it('needs a weight', () => {
    expect(() => shareAmount(1n, [ZERO])).toThrow()
  })
})
