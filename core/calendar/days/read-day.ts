import { isIsoDate, toDay, toIso, weekday, type DateFormat, type Day } from './day'

const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec']
const MONTH_NAMES = new Intl.DateTimeFormat('en', { month: 'long', timeZone: 'UTC' })
const WEEKDAYS = ['monday', 'tuesday', 'wednesday', 'thursday', 'friday', 'saturday', 'sunday']
/** A day that is meant without a year lies at most this far from today. */
const HALF_YEAR = 183
const NEARBY: Readonly<Record<string, number>> = { today: 0, tomorrow: 1, yesterday: -1 }

interface DayParts {
  readonly day: number
  readonly month: number
  readonly year: number | null
}

/**
 * Reads a date as a person types it, by the way the company writes dates; null where it is none.
 *
 * Read are: `2026-10-05`, `5 Oct`, `5 October 2026`, `Oct 5, 2026`, `5.10.`, `5/10/26` (the month first where the
 * company writes it first), `today`, `tomorrow`, `yesterday`, a weekday (the next one) and `+7` or `-3` days from
 * today. Without a year it is the day nearest to today.
 *
 * @example readTypedDay('5 oct', '2026-10-01', 'day month') → '2026-10-05'
 */
export function readTypedDay(text: string, today: string, format: DateFormat = 'day month'): string | null {
  const typed = text.trim().toLowerCase()
  if (isIsoDate(typed)) {
    return typed
  }
  const counted = readFromToday(typed, toDay(today))
  if (counted !== null) {
    return toIso(counted)
  }
  const parts = readNamedMonth(typed) ?? readNumbers(typed, format)
  return parts ? dayOf(parts, today) : null
}

/** Days from today, and days of the week. */
function readFromToday(typed: string, today: Day): Day | null {
  if (typed in NEARBY) {
    return today + NEARBY[typed]!
  }
  if (/^[+-]\d{1,4}$/.test(typed)) {
    return today + Number(typed)
  }
  const index = WEEKDAYS.findIndex((name) => typed.length >= 3 && name.startsWith(typed))
  return index < 0 ? null : today + ((index - weekday(today) + 6) % 7) + 1
}

function readNamedMonth(typed: string): DayParts | null {
  const [, before, name, after, year] =
    /^(\d{1,2})?\.?\s*([a-z]{3,9})\.?,?\s*(\d{1,2})?,?\s*(\d{4})?$/.exec(typed) ?? []
  const month = MONTHS.findIndex(
    (_, index) =>
      name !== undefined &&
      MONTH_NAMES.format(new Date(Date.UTC(2000, index, 1)))
        .toLowerCase()
        .startsWith(name),
  )
  if (month < 0 || (before === undefined) === (after === undefined)) {
    return null
  }
  return { day: Number(before ?? after), month: month + 1, year: year === undefined ? null : Number(year) }
}

function readNumbers(typed: string, format: DateFormat): DayParts | null {
  const [, longYear, ...inIsoOrder] = /^(\d{4})[/.](\d{1,2})[/.](\d{1,2})$/.exec(typed) ?? []
  if (longYear !== undefined) {
    return { year: Number(longYear), month: Number(inIsoOrder[0]), day: Number(inIsoOrder[1]) }
  }
  const [, first, sign, second, year] = /^(\d{1,2})([/.-])(\d{1,2})(?:[/.-](\d{4}|\d{2})?)?$/.exec(typed) ?? []
  if (first === undefined) {
    return null
  }
  const isMonthFirst = format === 'month day' && sign !== '.'
  return {
    day: Number(isMonthFirst ? second : first),
    month: Number(isMonthFirst ? first : second),
    year: year === undefined ? null : Number(year.length === 2 ? `20${year}` : year),
  }
}

function dayOf({ day, month, year }: DayParts, today: string): string | null {
  const inYear = (chosen: number): string =>
    `${chosen}-${String(month).padStart(2, '0')}-${String(day).padStart(2, '0')}`
  if (year !== null) {
    return isIsoDate(inYear(year)) ? inYear(year) : null
  }
  const thisYear = Number(today.slice(0, 4))
  const near = [thisYear, thisYear + 1, thisYear - 1]
    .map(inYear)
    .filter(isIsoDate)
    .find((iso) => Math.abs(toDay(iso) - toDay(today)) <= HALF_YEAR)
  return near ?? null
}
