import fc from 'fast-check'
import { expect, it } from 'vitest'
import { sortedPlaces } from './sorted-places'

it('any numbers come in the order of the language’s own stable sort (1 000)', () => {
  fc.assert(
    fc.property(
      fc.array(fc.oneof(fc.nat(9), fc.integer({ min: 0, max: 2 ** 32 - 1 })), { maxLength: 60 }),
      (numbers) => {
        expect([...sortedPlaces(numbers)]).toEqual(
          numbers.map((_, index) => index).sort((a, b) => numbers[a]! - numbers[b]!),
        )
      },
    ),
    { numRuns: 1000 },
  )
})
