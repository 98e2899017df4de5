/** A date as whole days since 1 January 1970; the same everywhere, since it knows no time zone. */
export type Day = number

const MS = 86_400_000

/** Whether text is a real date written as year-month-day. */
export function isIsoDate(text: string): boolean {
  return /^\d{4}-\d{2}-\d{2}$/.test(text) && !Number.isNaN(Date.parse(`${text}T00:00:00Z`)) && toIso(Date.parse(`${text}T00:00:00Z`) / MS) === text
}

/** Errors: throws where the text is no date; check with `isIsoDate` at the edge. */
export function toDay(iso: string): Day {
  if (!isIsoDate(iso)) throw new Error(`Not a date: ${iso}`)
  return Date.parse(`${iso}T00:00:00Z`) / MS
}

export const toIso = (day: Day): string => new Date(day * MS).toISOString().slice(0, 10)

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
