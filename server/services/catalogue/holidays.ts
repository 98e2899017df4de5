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

/**
 * Days that an iCalendar file (RFC 5545) marks: all-day events, each day of those that last longer, repeating ones for
 * three years.
 *
 * Errors: `invalid-input` where the file is no calendar or marks no whole day.
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
    const starts = event.isRecurring() ? repeats(event, until) : [event.startDate.toString()]
    for (const start of starts) {
      for (let i = 0; i < length; i++) {
        days.set(new Date(Date.parse(start) + i * 86_400_000).toISOString().slice(0, 10), event.summary ?? '')
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

function repeats(event: ICAL.Event, until: string): string[] {
  const found: string[] = []
  const iterator = event.iterator()
  for (
    let next = iterator.next();
    next && next.toString().slice(0, 10) <= until && found.length < 2000;
    next = iterator.next()
  ) {
    found.push(next.toString().slice(0, 10))
  }
  return found
}
