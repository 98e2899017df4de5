import Holidays from 'date-holidays'
import ICAL from 'ical.js'
import { Refusal } from '~~/server/utils/refusal'

export interface ClosedDay {
  readonly day: string
  readonly note: string
}

/** Countries for which public holidays are known, and the regions of one. */
export function holidayCountries(country?: string): {
  countries: { code: string; name: string }[]
  states: { code: string; name: string }[]
} {
  const all = new Holidays()
  const list = (found: Record<string, string> | undefined) =>
    Object.entries(found ?? {})
      .map(([code, name]) => ({ code, name }))
      .sort((a, b) => (a.name < b.name ? -1 : 1))
  return { countries: list(all.getCountries('en')), states: country ? list(all.getStates(country, 'en')) : [] }
}

/** Public holidays of a country or a region in a year, one entry a day. */
export function publicHolidays(country: string, state: string, year: number): ClosedDay[] {
  const calendar = state === '' ? new Holidays(country) : new Holidays(country, state)
  const days = new Map<string, string>()
  for (const holiday of calendar.getHolidays(year, 'en')) {
    if (holiday.type !== 'public') {
      continue
    }
    const [first, last] = [
      holiday.date.slice(0, 10),
      new Date(
        Date.parse(holiday.date.slice(0, 10)) +
          (Math.max(1, Math.round((holiday.end.getTime() - holiday.start.getTime()) / 86_400_000)) - 1) * 86_400_000,
      )
        .toISOString()
        .slice(0, 10),
    ]
    for (let day = first; day <= last; day = new Date(Date.parse(day) + 86_400_000).toISOString().slice(0, 10)) {
      if (!days.has(day)) {
        days.set(day, holiday.name)
      }
    }
  }
  return [...days].map(([day, note]) => ({ day, note })).sort((a, b) => (a.day < b.day ? -1 : 1))
}

/** An event lasts no longer, and no more days are marked, than a calendar of ten years would have. */
const LONGEST = 3660
const MOST_DAYS = 5000

/**
 * Days that an iCalendar file (RFC 5545) marks: all-day events, each day of those that last longer, repeating ones for
 * three years.
 *
 * A rule can repeat without ever falling on a day, so this is asked in a thread that is cut off. Errors:
 * `invalid-input` where the file is no calendar, marks no whole day, or too many.
 */
export function readCalendarFile(text: string, today: string): ClosedDay[] {
  let events: ICAL.Component[]
  try {
    events = new ICAL.Component(ICAL.parse(text) as unknown as string).getAllSubcomponents('vevent')
  } catch {
    throw new Refusal('invalid-input', 'This is no iCalendar file. Choose one that ends in .ics.')
  }
  const until = `${Number(today.slice(0, 4)) + 3}-12-31`
  const days = new Map<string, string>()
  for (const component of events) {
    const event = new ICAL.Event(component)
    if (!event.startDate?.isDate) {
      continue
    }
    const length = Math.max(1, Math.round(event.duration.toSeconds() / 86_400))
    if (!(length <= LONGEST)) {
      throw new Refusal('invalid-input', `“${(event.summary ?? '').slice(0, 60)}” lasts longer than ten years.`)
    }
    const starts = event.isRecurring() ? repeats(event, until) : [event.startDate.toString()]
    for (const start of starts) {
      for (let i = 0; i < length; i++) {
        days.set(new Date(Date.parse(start) + i * 86_400_000).toISOString().slice(0, 10), event.summary ?? '')
      }
      if (days.size > MOST_DAYS) {
        throw new Refusal('invalid-input', `The calendar marks more than ${MOST_DAYS} days. Take a shorter one.`)
      }
    }
  }
  if (days.size === 0) {
    throw new Refusal(
      'invalid-input',
      'The calendar marks no whole day. Closed days are events that last the whole day.',
    )
  }
  return [...days].map(([day, note]) => ({ day, note: note.slice(0, 200) })).sort((a, b) => (a.day < b.day ? -1 : 1))
}

/** The first days of an event that repeats. Errors: `invalid-input` for a rule that the library cannot follow. */
function repeats(event: ICAL.Event, until: string): string[] {
  try {
    return repeatsUntil(event.iterator(), until)
  } catch {
    throw new Refusal(
      'invalid-input',
      `“${(event.summary ?? '').slice(0, 60)}” repeats by a rule that cannot be read. Take a simpler calendar.`,
    )
  }
}

function repeatsUntil(iterator: ReturnType<ICAL.Event['iterator']>, until: string): string[] {
  const found: string[] = []
  for (
    let next = iterator.next();
    next && next.toString().slice(0, 10) <= until && found.length < 2000;
    next = iterator.next()
  ) {
    found.push(next.toString().slice(0, 10))
  }
  return found
}
