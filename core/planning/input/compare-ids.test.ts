import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { runs } from '../../../tests/property-runs'
import { compareIds } from './compare-ids'

describe('the order of ids', () => {
  it('counts numbers as numbers, within text too', () => {
    const ids = ['1000', '999', 'sales:10', 'sales:9', 'sales:9:2', '12@3', '12', '2@10', '2@9', 'B', 'a']
    expect(ids.sort(compareIds)).toEqual([
      '2@9',
      '2@10',
      '12',
      '12@3',
      '999',
      '1000',
      'B',
      'a',
      'sales:9',
      'sales:9:2',
      'sales:10',
    ])
  })
  it('agrees with the numbers themselves (property)', () => {
    fc.assert(
      fc.property(fc.nat(), fc.nat(), fc.constantFrom('', 'sales:'), (a, b, before) => {
        expect(Math.sign(compareIds(`${before}${a}`, `${before}${b}`))).toBe(Math.sign(a - b))
      }),
      { numRuns: runs(500) },
    )
  })
  it('is an order: whatever three ids, and however they are told apart (property)', () => {
    const id = fc.string({ unit: fc.constantFrom('0', '1', '9', 'a', ':', '@'), maxLength: 5 })
    fc.assert(
      fc.property(id, id, id, (a, b, c) => {
        expect(Math.sign(compareIds(a, b)) + Math.sign(compareIds(b, a))).toBe(0)
        expect(compareIds(a, b) === 0).toBe(a === b)
        if (compareIds(a, b) < 0 && compareIds(b, c) < 0) {
          expect(compareIds(a, c)).toBeLessThan(0)
        }
      }),
      { numRuns: runs(2000) },
    )
  })
})
