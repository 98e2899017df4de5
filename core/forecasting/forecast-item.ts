import { chooseMethod, type Choice } from './choose-method'
import { describeChoice } from './describe-choice'
import { historyOf, type Borrowing, type DaySale, type History, type HistoryCorrection } from './history'
import type { Period, Step } from './periods'
import { errorDeviation, rangesOf, type Range } from './range'
import type { MethodName, Parameters } from './series'

/** One item's sales and what is wanted of them. */
export interface ForecastInput {
  readonly sales: readonly DaySale[]
  readonly corrections: readonly HistoryCorrection[]
  readonly borrowed: Borrowing | null
  readonly step: Step
  readonly upTo: string
  readonly periods: readonly Period[]
  readonly symbol: string
  readonly wanted: { readonly method: MethodName, readonly parameters?: Parameters } | null
}

export interface ItemForecast {
  readonly history: History
  readonly choice: Choice
  /** Expected quantity of each wanted period, and where it lies with 80 and 95 %. */
  readonly expected: readonly number[]
  readonly ranges: readonly Range[]
  readonly deviation: number
  readonly sentence: string
}

/**
 * Forecasts one item from its day-by-day sales: history, method, expectation, range, and why.
 *
 * Periods between the last whole one and the first wanted one are forecast too and left out of the answer.
 *
 * Errors: null where nothing was ever sold or borrowed.
 */
export function forecastItem(input: ForecastInput): ItemForecast | null {
  const { step, periods } = input
  const first = historyOf({ ...input, ahead: [] })
  if (first === null || periods.length === 0) return null
  const gap = gapBetween(first.periods.at(-1)!, periods[0]!, step)
  const history: History = { ...first, series: { ...first.series, nextDays: [...Array.from({ length: gap }, () => daysOf(periods[0]!)), ...periods.map(daysOf)] } }
  const choice = chooseMethod(history.series, input.wanted)
  if (choice === null) return null
  const deviation = errorDeviation(choice.applied, history.series.values)
  const count = gap + periods.length
  return { history, choice, expected: choice.applied.forecast(count).slice(gap), ranges: rangesOf(choice.applied, deviation, count).slice(gap), deviation, sentence: describeChoice(choice, step, input.symbol) }
}

const daysOf = ({ first, last }: Period): number => Math.round((Date.parse(last) - Date.parse(first)) / 86_400_000) + 1
/** Whole periods between the two. */
function gapBetween(last: Period, first: Period, step: Step): number {
  const months = (day: string): number => Number(day.slice(0, 4)) * 12 + Number(day.slice(5, 7))
  if (step === 'month') return Math.max(0, months(first.first) - months(last.first) - 1)
  return Math.max(0, Math.round((Date.parse(first.first) - Date.parse(last.last)) / 86_400_000 - 1) / (step === 'week' ? 7 : 1))
}
