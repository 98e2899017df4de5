import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { classByValue } from './class-by-value'

const classes = (...values: number[]): string =>
  [...classByValue(values.map((value, id) => ({ id, value: BigInt(value) })))]
    .sort(([a], [b]) => a - b)
    .map(([, entry]) => entry)
    .join('')

describe('classes by value', () => {
  it.each([
    [[50, 30, 10, 6, 3, 1], 'AABBCC', '50 and 30 are 80 %; 10 and 6 bring it to 96 %, each begins below 95 %'],
    [[100], 'A', 'the only one'],
    [[0, 0], 'CC', 'nothing turned over'],
    [[1, 99], 'CA', 'order does not matter'],
    [[], '', 'none'],
  ])('%j are %s: %s', (values, expected) => {
    expect(classes(...values)).toBe(expected)
  })
  it('a greater value is never in a lower class (property)', () => {
    fc.assert(
      fc.property(fc.array(fc.nat(1000), { minLength: 2, maxLength: 30 }), (values) => {
        const found = classes(...values)
        values.forEach((value, i) =>
          values.forEach((candidate, j) => {
            if (value > candidate) {
              expect(found[i]! <= found[j]!).toBe(true)
            }
          }),
        )
      }),
    )
  })
})
