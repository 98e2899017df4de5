import { describe, expect, it } from 'vitest'
import { readNumber } from './read-number'

describe('a number in any field', () => {
  it.each([
    ['12.50', '.', '12.50'],
    ['3*12', '.', '36'],
    ['1,250.5', '.', '1250.5'],
    ['1 250', '.', '1250'],
    ['1/4', '.', '0.25'],
    ['1/3', '.', '1/3'],
    ['10 - 4', '.', '6'],
    ['', '.', ''],
    ['  7 ', '.', '7'],
    ['two', '.', 'two'],
    ['1,5', '.', '1,5'],
    ['-2', '.', '-2'],
    ['1,5', ',', '1.5'],
    ['1.250,5', ',', '1250.5'],
    ['1.250', ',', '1250'],
    ['12', ',', '12'],
    ['2*1,5', ',', '3'],
  ] as const)('%j with a decimal %s is %j', (typed, sign, stored) => {
    expect(readNumber(typed, sign)).toBe(stored)
  })
})
