import { toDay, toIso, weekday, type Day } from '../days'

/** What forecasts and histories go by, from the shortest. */
export const STEPS = ['day', 'week', 'month'] as const
/** One of the steps: a day, a week from Monday on, a calendar month. */
export type Step = (typeof STEPS)[number]
/** First and last day of a period, as dates. */
export interface Period {
  readonly first: string
  readonly last: string
}

/** Periods after which a pattern begins again: a week of days, a year of weeks or months. */
export const roundOf = (step: Step): number => {
  if (step === 'day') {
    return 7
  }
  if (step === 'week') {
    return 52
  }
  return 12
}

/** The period that a day lies in; weeks begin on Monday. */
export function periodOf(day: string, step: Step): Period {
  const ordinal = toDay(day)
  if (step === 'day') {
    return { first: day, last: day }
  }
  if (step === 'week') {
    const first = ordinal - weekday(ordinal)
    return { first: toIso(first), last: toIso(first + 6) }
  }
  const first = `${day.slice(0, 7)}-01`
  return { first, last: toIso(monthAfter(first) - 1) }
}

/** All periods from that of `from` to that of `to`, in order. */
export function periodsBetween(from: string, to: string, step: Step): Period[] {
  const periods: Period[] = []
  for (let period = periodOf(from, step); period.first <= to; period = periodOf(toIso(toDay(period.last) + 1), step)) {
    periods.push(period)
  }
  return periods
}

/** How many days a period has, both ends counted. */
export const daysIn = ({ first, last }: Period): number => toDay(last) - toDay(first) + 1

function monthAfter(first: string): Day {
  const [year, month] = [Number(first.slice(0, 4)), Number(first.slice(5, 7))]
  return toDay(month === 12 ? `${year + 1}-01-01` : `${year}-${String(month + 1).padStart(2, '0')}-01`)
}
