import { describe, expect, it } from 'vitest'
import { majorText, toMajor, toMinor } from './money'
import { ratio, toText } from './units/exact'

describe('money', () => {
  it.each([
    [0n, '0.00'],
    [5n, '0.05'],
    [-5n, '-0.05'],
    ['123456', '1234.56'],
    ['900719925474099312', '9007199254740993.12'],
  ] as const)('%s minor units are %s', (minor, major) => {
    expect(majorText(minor)).toBe(major)
  })
  it('goes there and back without loss, fractions of a minor unit too', () => {
    expect(toText(toMinor(toMajor(ratio('1/3'))))).toBe(toText(ratio('1/3')))
    expect(toText(toMinor(ratio('12.345')))).toBe('1234.5')
  })
})
