import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { toDay, toIso } from '~~/core/calendar/days'
import type { Arrival } from '~~/shared/purchasing/arrivals'
import { arrivalWeeks } from './arrival-weeks'

const arrival = (day: string): Arrival => ({ day, number: day }) as Arrival

describe('arrivals on a calendar of weeks', () => {
  it('what was due before today is late, what is due today is not', () => {
    const { late, weeks } = arrivalWeeks(
      [arrival('2026-10-05'), arrival('2026-10-07'), arrival('2026-10-12')],
      '2026-10-07',
    )
    expect(late.map((each) => each.day)).toEqual(['2026-10-05'])
    expect(weeks).toHaveLength(6)
    expect(weeks[0]!.first).toBe('2026-10-05')
    expect(weeks[0]!.days.map((day) => day.arrivals.length)).toEqual([0, 0, 1, 0, 0, 0, 0])
    expect(weeks[1]!.days[0]!.arrivals).toHaveLength(1)
  })
  it('as many weeks as there are arrivals in, up to a year; the rest is told apart', () => {
    expect(arrivalWeeks([arrival('2026-12-31')], '2026-10-05').weeks).toHaveLength(13)
    const far = arrivalWeeks([arrival('2029-01-01')], '2026-10-05')
    expect([far.weeks.length, far.later.length]).toEqual([53, 1])
  })
  it('loses none and doubles none (property)', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: -30, max: 500 }), { maxLength: 20 }),
        fc.integer({ min: 0, max: 6 }),
        (ahead, of) => {
          const today = toDay('2026-10-05') + of
          const arrivals = ahead.sort((a, b) => a - b).map((days) => arrival(toIso(today + days)))
          const { late, weeks, later } = arrivalWeeks(arrivals, toIso(today))
          const shown = [...late, ...weeks.flatMap((week) => week.days.flatMap((day) => day.arrivals)), ...later]
          expect(shown.map((each) => each.day)).toEqual(arrivals.map((each) => each.day))
        },
      ),
    )
  })
})
