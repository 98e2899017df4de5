export interface NamedPeriod {
  readonly name: string
  /** The first and the last day, ISO 8601. */
  readonly from: string
  readonly until: string
}

const iso = (year: number, month: number, day: number): string =>
  new Date(Date.UTC(year, month, day)).toISOString().slice(0, 10)
/** So many whole months from the month `first` (0 is January) on; day 0 of the next month is the last of this. */
const months = (name: string, year: number, first: number, count: number): NamedPeriod => ({
  name,
  from: iso(year, first, 1),
  until: iso(year, first + count, 0),
})

/** The periods of the calendar that people ask for, by a day (ISO 8601). */
export function periodsAround(today: string): readonly NamedPeriod[] {
  const year = Number(today.slice(0, 4))
  const month = Number(today.slice(5, 7)) - 1
  const quarter = month - (month % 3)
  return [
    months('This month', year, month, 1),
    months('Last month', year, month - 1, 1),
    months('This quarter', year, quarter, 3),
    months('Last quarter', year, quarter - 3, 3),
    months('This year', year, 0, 12),
    months('Last year', year - 1, 0, 12),
  ]
}
