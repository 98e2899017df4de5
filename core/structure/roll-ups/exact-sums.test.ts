import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ratio, toText, ZERO, type Ratio } from '../../units/exact'
import { ExactSums } from './exact-sums'

const fraction = fc
  .tuple(
    fc.bigInt({ min: -(10n ** 18n), max: 10n ** 18n }),
    fc.oneof(fc.bigInt({ min: 1n, max: 40n }), fc.bigInt({ min: 1n, max: 10n ** 12n })),
  )
  .map(([n, d]) => ratio(n, d))
const small = fc.tuple(fc.integer({ min: -9, max: 99 }), fc.integer({ min: 1, max: 12 })).map(([n, d]) => ratio(n, d))

describe('sums of products of fractions', () => {
  it.each([
    ['small numbers', small],
    ['numbers of which many do not fit into 2^53', fraction],
  ])('equal those of a rational library, for %s (property)', (_, values) => {
    fc.assert(
      fc.property(fc.array(fc.tuple(values, values), { maxLength: 12 }), (pairs) => {
        const [left, right] = [ExactSums.of(pairs.map((pair) => pair[0])), ExactSums.of(pairs.map((pair) => pair[1]))]
        const sum = new ExactSums(2)
        let expected: Ratio = ZERO
        pairs.forEach(([a, b], index) => {
          sum.addProduct(1, left, index, right, index)
          sum.add(1, left, index)
          expected = expected.add(a.mul(b)).add(a)
        })
        expect(toText(sum.get(1))).toBe(toText(expected))
        sum.reduce(1)
        expect(toText(sum.get(1))).toBe(toText(expected))
        expect(sum.isZero(1)).toBe(expected.equals(ZERO))
        expect(sum.isZero(0)).toBe(true)
      }),
      { numRuns: 500 },
    )
  })
  it('a sum that grew out of plain numbers comes back into them', () => {
    const sum = new ExactSums(1)
    const big = ExactSums.of([ratio(2n ** 60n), ratio(-(2n ** 60n) + 1n)])
    sum.add(0, big, 0)
    sum.add(0, big, 1)
    sum.reduce(0)
    expect([toText(sum.get(0)), sum.pair(0)]).toEqual(['1', [1n, 1n]])
  })
})
