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

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']

/**
 * Writes a date for people: the year only where it differs from that of `today`.
 *
 * @example "2026-10-05" → "5 Oct"; "2027-01-02" → "2 Jan 2027"
 */
export function printDay(iso: string, today: string): string {
  const [year, month, day] = iso.split('-')
  return `${Number(day)} ${MONTHS[Number(month) - 1]}${year === today.slice(0, 4) ? '' : ` ${year}`}`
}
