import { toDay, toIso } from '~~/core/calendar/days'
import { everyDay, forward, makeCalendar, type WorkingCalendar } from '~~/core/calendar/working'
import type { PlanInput } from '~~/core/planning/input'

/**
 * The day on which what is begun `from` a day on is there, its lead time in working days of a calendar; of none: every
 * day works.
 */
export type Arrivals = (calendar: string | null, from: string, leadDays: number) => string

export function arrivalsBy(calendars: PlanInput['calendars']): Arrivals {
  const known = new Map<string | null, WorkingCalendar>([[null, everyDay]])
  return (calendar, from, leadDays) => {
    const given = calendar === null ? undefined : calendars[calendar]
    const days = known.get(calendar) ?? (given ? makeCalendar(given.weekdays, given.closed) : everyDay)
    known.set(calendar, days)
    return toIso(forward(days, toDay(from), leadDays))
  }
}
