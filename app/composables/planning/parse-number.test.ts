import { expect, it } from 'vitest'
import { toText } from '~~/core/units/exact'
import { parseNumber } from './parse-number'

it.each([
  ['1,250', '.', '1250'],
  ['1,250', ',', '1.25'],
  ['1 250,5', ',', '1250.5'],
  ['3*12', '.', '36'],
  ['0', '.', '0 is not above zero. Type a quantity greater than zero.'],
  ['0,5', '.', '“0,5” is written with a decimal comma; here it is a point: 0.5.'],
  ['12 m', '.', 'Type a number; “m” is none of it.'],
] as const)('%s with a decimal %s is %s', (text, sign, expected) => {
  const read = parseNumber(text, sign)
  expect(read.ok ? toText(read.value) : read.error).toBe(expected)
})

it('a change in per cent may fall', () => {
  const read = parseNumber('−15', '.', true)
  expect(read.ok && toText(read.value)).toBe('-15')
})
