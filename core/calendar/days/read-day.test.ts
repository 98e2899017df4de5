import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { printDay, readTypedDay, toIso, type DateFormat } from '.'

const FORMATS: readonly DateFormat[] = ['day month', 'month day', 'numbers', 'iso']

// 2026-10-05 is a Monday (a calendar on the wall; common practice, no source, for what people type).
describe('a typed date, on Monday 5 October 2026', () => {
  it.each([
    ['2026-10-09', '2026-10-09'],
    ['2026/10/9', '2026-10-09'],
    ['9 Oct', '2026-10-09'],
    ['9 october 2027', '2027-10-09'],
    ['9. Oct', '2026-10-09'],
    ['Oct 9', '2026-10-09'],
    ['Oct 9, 2027', '2027-10-09'],
    ['9.10.', '2026-10-09'],
    ['9.10.27', '2027-10-09'],
    ['09/10/2026', '2026-10-09'],
    ['9-10-2026', '2026-10-09'],
    ['today', '2026-10-05'],
    ['tomorrow', '2026-10-06'],
    ['yesterday', '2026-10-04'],
    ['+14', '2026-10-19'],
    ['-1', '2026-10-04'],
    ['fri', '2026-10-09'],
    ['monday', '2026-10-12'],
    [' Tue ', '2026-10-06'],
    ['5 Jan', '2027-01-05'],
    ['5 Sep', '2026-09-05'],
  ])('%s is %s', (text, iso) => {
    expect(readTypedDay(text, '2026-10-05')).toBe(iso)
  })
  it.each(['', '5', '31 Sep 2026', '2026-02-29', '29 Feb', '13/13/2026', '5 Foo', 'Oct', '5 Oct 5', 'x'])(
    '“%s” is none',
    (text) => {
      expect(readTypedDay(text, '2026-10-05')).toBeNull()
    },
  )
  it('is read month first where the company writes it so, but not with points', () => {
    expect(readTypedDay('10/9/2026', '2026-10-05', 'month day')).toBe('2026-10-09')
    expect(readTypedDay('9.10.2026', '2026-10-05', 'month day')).toBe('2026-10-09')
  })
})

it('reads whatever is printed as the same day, in every way of writing dates', () => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 40_000 }), fc.constantFrom(...FORMATS), (day, format) => {
      const written = printDay(toIso(day), '1800-01-01', format)
      expect(readTypedDay(written, '2026-10-05', format)).toBe(toIso(day))
    }),
  )
})
