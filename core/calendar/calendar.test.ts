import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { back, everyDay, forward, isWorking, makeCalendar, workingDaysBetween } from './working'
import { isIsoDate, printDay, toDay, toIso, weekday } from './days'

const office = makeCalendar([true, true, true, true, true, false, false], ['2026-10-12'])
const shift = (move: typeof back, iso: string, days: number): string => toIso(move(office, toDay(iso), days))

describe('dates', () => {
  it('5 October 2026 is a Monday, 1 January 1970 a Thursday', () => {
    expect([weekday(toDay('2026-10-05')), weekday(0)]).toEqual([0, 3])
  })
  it.each([
    ['2026-02-29', false],
    ['2028-02-29', true],
    ['2026-13-01', false],
    ['tomorrow', false],
    ['2026-1-1', false],
  ])('%s is a date: %s', (text, real) => {
    expect(isIsoDate(text)).toBe(real)
  })
  it('throws on text that is none', () => {
    expect(() => toDay('2026-02-30')).toThrow()
  })
})

describe('working days (Monday to Friday, 12 October closed)', () => {
  it.each([
    ['2026-10-09', 0, '2026-10-09'],
    ['2026-10-11', 0, '2026-10-09'],
    ['2026-10-13', 1, '2026-10-09'],
    ['2026-10-16', 5, '2026-10-08'],
    ['2026-10-12', 1, '2026-10-08'],
  ])('back from %s by %i is %s', (from, days, to) => {
    expect(shift(back, from, days)).toBe(to)
  })
  it.each([
    ['2026-10-09', 1, '2026-10-13'],
    ['2026-10-10', 0, '2026-10-13'],
    ['2026-10-05', 5, '2026-10-13'],
  ])('forward from %s by %i is %s', (from, days, to) => {
    expect(shift(forward, from, days)).toBe(to)
  })
  it('counts 4 working days from 9 to 16 October', () => {
    expect(workingDaysBetween(office, toDay('2026-10-09'), toDay('2026-10-16'))).toBe(4)
  })
  it('counts working days like a walk over every day (property)', () => {
    fc.assert(
      fc.property(fc.integer({ min: 20600, max: 20800 }), fc.integer({ min: -5, max: 120 }), (from, span) => {
        const walked = Array.from({ length: Math.max(0, span) }, (_, i) => from + 1 + i).filter((day) =>
          isWorking(office, day),
        ).length
        return workingDaysBetween(office, from, from + span) === walked
      }),
    )
  })
  it('remembers no answer for another calendar or direction', () => {
    for (let again = 0; again < 2; again++) {
      expect([back(everyDay, 0, 0), forward(office, 2, 0), back(office, 2, 0), forward(everyDay, 2, 1)]).toEqual([
        0, 4, 1, 3,
      ])
    }
  })
  it('refuses a calendar on which nobody ever works', () => {
    expect(() =>
      makeCalendar(
        Array.from({ length: 7 }, () => false),
        [],
      ),
    ).toThrow()
  })
  it('back and forward are inverse on working days, and every day works without a calendar (property)', () => {
    fc.assert(
      fc.property(fc.integer({ min: 20000, max: 21000 }), fc.integer({ min: 0, max: 60 }), (day, days) => {
        const working = back(office, day, 0)
        return (
          forward(office, back(office, working, days), days) === working &&
          isWorking(office, back(office, day, days)) &&
          back(everyDay, day, days) === day - days
        )
      }),
    )
  })
})

describe('writing dates for people', () => {
  it.each([
    ['2026-10-05', '5 Oct'],
    ['2026-01-31', '31 Jan'],
    ['2027-01-02', '2 Jan 2027'],
    ['2025-12-31', '31 Dec 2025'],
  ])('%s is %s in 2026', (iso, written) => {
    expect(printDay(iso, '2026-10-05')).toBe(written)
  })
  it.each([
    ['month day', '2026-10-05', 'Oct 5'],
    ['month day', '2027-01-02', 'Jan 2, 2027'],
    ['numbers', '2026-10-05', '05/10/2026'],
    ['iso', '2026-10-05', '2026-10-05'],
  ] as const)('as “%s”, %s is %s', (format, iso, written) => {
    expect(printDay(iso, '2026-10-05', format)).toBe(written)
  })
  it('days and dates are two names of one thing, across leap years (property)', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -20000, max: 60000 }),
        (day) => toDay(toIso(day)) === day && weekday(day + 7) === weekday(day) && toIso(day) < toIso(day + 1),
      ),
    )
  })
})
