import { MINOR_PER_MAJOR } from '~~/core/money'
import { ratio, toDecimal } from '~~/core/units/exact'
import type { Step } from '~~/core/calendar/periods'
import type { HistoryAnswer } from '~~/shared/demand/history'

export type SalesMeasure = 'quantity' | 'value' | 'margin'
type Row = HistoryAnswer['periods'][number]

const SHADES = ['line', 'stone', 'stone', 'ink', 'maple']

/** How a year stands to the one before: `periods` were compared; `isWhole`: all that there are of a year. */
export interface YearChange {
  readonly percent: number
  readonly periods: number
  readonly isWhole: boolean
}

/** Sales laid out with year beside year: as a table by month or week, with totals, and as a chart. */
export function useSalesYears(
  data: () => HistoryAnswer | null | undefined,
  step: () => Step,
  measure: () => SalesMeasure,
) {
  const session = useSession()
  const { amount, digits } = usePrint()
  const shown = computed(() => (measure() === 'quantity' && !data()?.symbol ? 'value' : measure()))
  /** The measure as a figure: units as they are, money in major units; null where it is not known. */
  const figure = (row: Row): number | null => {
    if (shown.value === 'quantity') {
      return Number(row.quantity)
    }
    if (shown.value === 'value') {
      return Number(row.value) / MINOR_PER_MAJOR
    }
    if (row.cost === null) {
      return null
    }
    return (Number(row.value) - Number(row.cost)) / MINOR_PER_MAJOR
  }
  const print = (value: number | null): string => {
    if (value === null) {
      return '–'
    }
    if (shown.value === 'quantity') {
      return amount(String(Math.round(value * 1e6) / 1e6))
    }
    return digits(toDecimal(ratio(value.toFixed(2)), 0))
  }
  const years = computed(() => [...new Set((data()?.periods ?? []).map((row) => row.first.slice(0, 4)))])
  /** Which row of the table a period stands in: the month, or the week counted from the first Monday of its year. */
  const placeOf = (first: string): number =>
    step() === 'month'
      ? Number(first.slice(5, 7)) - 1
      : Math.floor((Date.parse(first) - Date.parse(`${first.slice(0, 4)}-01-01`)) / 604_800_000)
  const table = computed(() => {
    const rowByPlace = new Map(
      (data()?.periods ?? []).map((row) => [`${row.first.slice(0, 4)} ${placeOf(row.first)}`, row]),
    )
    return Array.from({ length: step() === 'month' ? 12 : 53 }, (_, place) => ({
      id: place,
      name: step() === 'month' ? monthName(place) : `week ${place + 1}`,
      cells: years.value.map((year) => rowByPlace.get(`${year} ${place}`) ?? null),
    })).filter((row) => row.cells.some(Boolean))
  })
  const totals = computed(() =>
    years.value.map((year) =>
      (data()?.periods ?? [])
        .filter((row) => row.first.startsWith(year))
        .reduce<number | null>((sum, row) => {
          const own = figure(row)
          return own === null || sum === null ? null : sum + own
        }, 0),
    ),
  )
  /**
   * By how much each year is above the one before, like for like: only of the months or weeks that both have to their
   * ends. Null where there is none, or nothing to compare with.
   */
  const changes = computed(() =>
    years.value.map((_, index): YearChange | null => {
      const both = table.value
        .map((row) => [row.cells[index - 1] ?? null, row.cells[index] ?? null] as const)
        .filter(([before, own]) => before !== null && own !== null && own.last < session.today)
      const sum = (side: 0 | 1): number | null =>
        both.reduce<number | null>((total, pair) => {
          const value = figure(pair[side]!)
          return value === null || total === null ? null : total + value
        }, 0)
      const [before, own] = [sum(0), sum(1)]
      return before === null || own === null || before <= 0
        ? null
        : {
            percent: Math.round((own / before - 1) * 100),
            periods: both.length,
            isWhole: both.length >= (step() === 'month' ? 12 : 52),
          }
    }),
  )
  const chart = computed(() => {
    if (step() === 'day') {
      return {
        series: [
          {
            name: 'sold',
            data: (data()?.periods ?? []).map((row) => ({ x: Date.parse(row.first), y: figure(row) })),
          },
        ],
        options: { chart: { type: 'bar' as const }, colors: ['maple'], xaxis: { type: 'datetime' as const } },
      }
    }
    return {
      series: years.value.map((year, index) => ({
        name: year,
        data: table.value.map((row) => {
          const cell = row.cells[index]
          const value = cell && cell.last < session.today ? figure(cell) : null
          return value === null ? null : Math.round(value * 100) / 100
        }),
      })),
      options: {
        chart: { type: 'line' as const },
        colors: SHADES.slice(-years.value.length),
        stroke: {
          width: years.value.map((_, index) => (index === years.value.length - 1 ? 3.5 : 2)),
          dashArray: years.value.map((_, index) =>
            index === years.value.length - 1 ? 0 : [6, 4, 2, 0][(years.value.length - 2 - index) % 4]!,
          ),
        },
        markers: { size: 3 },
        xaxis: { categories: table.value.map((row) => row.name) },
        yaxis: {
          labels: {
            formatter: (value: number) =>
              digits(value >= 10 || Number.isInteger(value) ? value.toFixed(0) : value.toFixed(1)),
          },
        },
      },
    }
  })
  return { shown, figure, print, years, table, totals, changes, chart }
}
/** What forecasts take a period for, where that is not what was sold. */
export const correctionFor = (history: HistoryAnswer | null, period: Row) =>
  history?.corrections.find((correction) => correction.firstOn <= period.first && correction.lastOn >= period.first)
export type SalesYears = ReturnType<typeof useSalesYears>
