import fc from 'fast-check'
import { expect, it } from 'vitest'
import { ratio, toText, ZERO } from '../units/exact'
import { stillThere } from './still-there'
import { runs } from '../../tests/property-runs'

const left = (cameIn: number[], there: number): string[] =>
  stillThere(
    cameIn.map((quantity) => ratio(quantity)),
    ratio(there),
  ).map(toText)

it('what came first has left first: of 10, 5 and 8, 11 are there: 0, 3 and 8', () => {
  expect(left([10, 5, 8], 11)).toEqual(['0', '3', '8'])
})
it('more there than came in: all of it is, the rest was there before; nothing there, or less, is nothing', () => {
  expect(left([4, 2], 9)).toEqual(['4', '2'])
  expect(left([4, 2], 0)).toEqual(['0', '0'])
  expect(left([4, 2], -3)).toEqual(['0', '0'])
  expect(left([], 5)).toEqual([])
})
it('is what a queue of single pieces comes to', () => {
  fc.assert(
    fc.property(fc.array(fc.nat(6), { maxLength: 6 }), fc.nat(20), (cameIn, there) => {
      const queue = cameIn.flatMap((quantity, index) => Array.from({ length: quantity }, () => index))
      const kept = queue.slice(Math.max(0, queue.length - there))
      expect(left(cameIn, there)).toEqual(
        cameIn.map((_, index) => String(kept.filter((entry) => entry === index).length)),
      )
      expect(stillThere([], ZERO)).toEqual([])
    }),
    { numRuns: runs(300) },
  )
})
