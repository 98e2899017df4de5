import { toDay, toIso, weekday } from '~~/core/calendar/days'
import type { Arrival } from '~~/shared/purchasing/arrivals'

export interface ArrivalDay {
  readonly day: string
  readonly arrivals: readonly Arrival[]
}
export interface ArrivalWeek {
  /** Its Monday. */
  readonly first: string
  readonly days: readonly ArrivalDay[]
}

const SHOWN_WEEKS = 6
const mondayOf = (iso: string): number => toDay(iso) - weekday(toDay(iso))

/**
 * What is to arrive as a calendar: what is late by itself, then the weeks from this one on, at least six of them and as
 * many as there are arrivals within a year. Days before today are left empty: what was due on them is late.
 */
export function arrivalWeeks(
  arrivals: readonly Arrival[],
  today: string,
): { late: readonly Arrival[]; weeks: readonly ArrivalWeek[]; later: readonly Arrival[] } {
  const MOST_WEEKS = 53
  const monday = mondayOf(today)
  const comes = arrivals.filter((arrival) => arrival.day >= today)
  const last = comes.at(-1)?.day
  const needed = last === undefined ? 0 : (mondayOf(last) - monday) / 7 + 1
  const count = Math.min(MOST_WEEKS, Math.max(SHOWN_WEEKS, needed))
  const weeks = Array.from({ length: count }, (_, at): ArrivalWeek => {
    const first = monday + at * 7
    return {
      first: toIso(first),
      days: Array.from({ length: 7 }, (__, of) => {
        const day = toIso(first + of)
        return { day, arrivals: comes.filter((arrival) => arrival.day === day) }
      }),
    }
  })
  const end = toIso(monday + count * 7)
  return {
    late: arrivals.filter((arrival) => arrival.day < today),
    weeks,
    later: comes.filter((arrival) => arrival.day >= end),
  }
}
