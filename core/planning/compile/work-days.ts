import { back, forward, isWorking, workingDaysBetween, type WorkingCalendar } from '../../calendar/working'
import type { Day } from '../../calendar/days'

/** A calendar whose working days around a horizon are counted once, so that each shift is two looks into a table. */
export interface WorkDays {
  back(day: Day, days: number): Day
  forward(day: Day, days: number): Day
  /** Working days from `from` on and before `until`: what has gone by of them when `until` begins. */
  gone(from: Day, until: Day): number
}

/** Counts the working days from `first` to `last`; what lies beyond is walked to by the calendar itself. */
export function countWorkDays(calendar: WorkingCalendar, first: Day, last: Day): WorkDays {
  const worked: number[] = []
  const rank = new Int32Array(last - first + 1)
  for (let day = first; day <= last; day++) {
    if (isWorking(calendar, day)) {
      worked.push(day)
    }
    rank[day - first] = worked.length
  }
  const within = (day: Day): boolean => day >= first && day <= last
  return {
    back(day, days) {
      const index = within(day) ? rank[day - first]! - 1 - days : -1
      return index >= 0 ? worked[index]! : back(calendar, day, days)
    },
    forward(day, days) {
      const before = within(day) ? rank[day - first]! : -1
      const index = before < 0 ? -1 : (before > 0 && worked[before - 1] === day ? before - 1 : before) + days
      return index >= 0 && index < worked.length ? worked[index]! : forward(calendar, day, days)
    },
    gone: (from, until) =>
      within(from - 1) && within(until - 1)
        ? Math.max(0, rank[until - 1 - first]! - rank[from - 1 - first]!)
        : workingDaysBetween(calendar, from - 1, until - 1),
  }
}
