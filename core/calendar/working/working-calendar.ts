import { toDay, weekday, type Day } from '../days'

/** Working weekdays (Monday first) and days that are closed all the same. */
export interface WorkingCalendar {
  readonly weekdays: readonly boolean[]
  readonly closed: ReadonlySet<Day>
}

/** The calendar of those who have none: every day works. */
export const everyDay: WorkingCalendar = { weekdays: Array.from({ length: 7 }, () => true), closed: new Set() }

/** Errors: throws where no weekday works, since no date could then be found. */
export function makeCalendar(weekdays: readonly boolean[], closed: readonly string[]): WorkingCalendar {
  if (weekdays.length !== 7 || !weekdays.includes(true)) {
    throw new Error('A calendar needs seven weekdays, one of them working')
  }
  return { weekdays, closed: new Set(closed.map(toDay)) }
}

/** Whether work is done on a day: its weekday is worked, and it is not closed. */
export const isWorking = (calendar: WorkingCalendar, day: Day): boolean =>
  calendar.weekdays[weekday(day)]! && !calendar.closed.has(day)

/**
 * The day `days` working days before `day`; `day` itself is first moved back to a working day.
 *
 * @example Monday to Friday: back(Monday, 1) is the Friday before; back(Sunday, 0) is Friday
 */
export const back = (calendar: WorkingCalendar, day: Day, days: number): Day => step(calendar, day, days, -1)

/** The day `days` working days after `day`; `day` itself is first moved on to a working day. */
export const forward = (calendar: WorkingCalendar, day: Day, days: number): Day => step(calendar, day, days, 1)

/**
 * How many calendar days some working days take from a day on.
 *
 * @example Monday to Friday: five working days from a Monday take seven, over the weekend
 */
export const spanOf = (calendar: WorkingCalendar, from: Day, days: number): number =>
  forward(calendar, from, days) - from

/** How many working days lie after `from`, up to and with `to`; 0 where `to` is not later. */
export function workingDaysBetween(calendar: WorkingCalendar, from: Day, to: Day): number {
  if (to <= from) {
    return 0
  }
  const weeks = Math.floor((to - from) / 7)
  let count = weeks * calendar.weekdays.filter(Boolean).length
  for (let day = from + weeks * 7 + 1; day <= to; day++) {
    if (calendar.weekdays[weekday(day)]) {
      count++
    }
  }
  for (const day of calendar.closed) {
    if (day > from && day <= to && calendar.weekdays[weekday(day)]) {
      count--
    }
  }
  return count
}

// The same few lead times are counted from the same few hundred days again and again.
const COUNTED_DAYS = 4096
const counted = new WeakMap<WorkingCalendar, Map<number, Day>>()

function step(calendar: WorkingCalendar, start: Day, days: number, direction: 1 | -1): Day {
  if (days >= COUNTED_DAYS) {
    return walk(calendar, start, days, direction)
  }
  const known = counted.get(calendar) ?? new Map<number, Day>()
  if (known.size === 0) {
    counted.set(calendar, known)
  }
  const key = (start * COUNTED_DAYS + days) * 2 + (direction === 1 ? 1 : 0)
  const found = known.get(key) ?? walk(calendar, start, days, direction)
  if (known.size < 100_000) {
    known.set(key, found)
  }
  return found
}

function walk(calendar: WorkingCalendar, start: Day, days: number, direction: 1 | -1): Day {
  let day = start
  let left = days
  const limit = 366 * 40
  for (let tried = 0; tried < limit; tried++, day += direction) {
    if (!isWorking(calendar, day)) {
      continue
    }
    if (left === 0) {
      return day
    }
    left--
  }
  throw new Error('No working day within forty years')
}
