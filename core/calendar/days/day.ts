/** A date as whole days since 1 January 1970; the same everywhere, since it knows no time zone. */
export type Day = number

const MS = 86_400_000
/** About a hundred years. */
const KEPT = 40_000

/** Whether text is a real date written as year-month-day. */
export function isIsoDate(text: string): boolean {
  return (
    /^\d{4}-\d{2}-\d{2}$/.test(text) &&
    !Number.isNaN(Date.parse(`${text}T00:00:00Z`)) &&
    toIso(Date.parse(`${text}T00:00:00Z`) / MS) === text
  )
}

// A plan writes and reads the same few hundred dates a million times; each is worked out once.
const days = new Map<string, Day>()
const texts = new Map<Day, string>()

/** Errors: throws where the text is no date; check with `isIsoDate` at the edge. */
export function toDay(iso: string): Day {
  const known = days.get(iso)
  if (known !== undefined) {
    return known
  }
  if (!isIsoDate(iso)) {
    throw new Error(`Not a date: ${iso}`)
  }
  const day = Date.parse(`${iso}T00:00:00Z`) / MS
  if (days.size < KEPT) {
    days.set(iso, day)
  }
  return day
}

/** A day as ISO 8601 writes it, `2026-10-05`. */
export function toIso(day: Day): string {
  const known = texts.get(day)
  if (known !== undefined) {
    return known
  }
  const text = new Date(day * MS).toISOString().slice(0, 10)
  if (texts.size < KEPT) {
    texts.set(day, text)
  }
  return text
}

/** 0 is Monday, 6 is Sunday (the order of ISO 8601). */
export const weekday = (day: Day): number => (((day + 3) % 7) + 7) % 7

/** How a company writes dates: 5 Oct 2026, Oct 5, 2026, 05/10/2026 or 2026-10-05. */
export type DateFormat = 'day month' | 'month day' | 'numbers' | 'iso'

const parts = new Intl.DateTimeFormat('en-US', { timeZone: 'UTC', day: 'numeric', month: 'short', year: 'numeric' })
const numbers = new Intl.DateTimeFormat('en-GB', { timeZone: 'UTC', day: '2-digit', month: '2-digit', year: 'numeric' })

/**
 * Writes a date for people; with the name of its month, the year stands only where it differs from that of `today`.
 *
 * @example "2026-10-05" → "5 Oct" or "Oct 5"; "2027-01-02" → "2 Jan 2027" or "Jan 2, 2027"
 */
export function printDay(iso: string, today: string, format: DateFormat = 'day month'): string {
  const moment = toDay(iso) * MS
  if (format === 'iso') {
    return iso
  }
  if (format === 'numbers') {
    return numbers.format(moment)
  }
  const part = new Map(parts.formatToParts(moment).map(({ type, value }) => [type, value]))
  const [day, month, year] = [part.get('day')!, part.get('month')!, part.get('year')!]
  const isThisYear = iso.slice(0, 4) === today.slice(0, 4)
  if (format === 'month day') {
    return isThisYear ? `${month} ${day}` : `${month} ${day}, ${year}`
  }
  return isThisYear ? `${day} ${month}` : `${day} ${month} ${year}`
}
