import { toDay } from '../calendar/days'
import { chooseMethod, type Choice } from './choose-method'
import { describeChoice } from './describe-choice'
import type { History } from './history'
import { daysIn, type Period, type Step } from '../calendar/periods'
import { errorDeviation, rangesOf, type Range } from './range'
import type { MethodName, Parameters } from './series'

/** One item's history and what is wanted of it. */
export interface ForecastInput {
  readonly history: History | null
  readonly step: Step
  readonly periods: readonly Period[]
  readonly symbol: string
  readonly wanted: { readonly method: MethodName; readonly parameters?: Parameters } | null
}

export interface ItemForecast {
  readonly choice: Choice
  /** Expected quantity of each wanted period, and where it lies with 80 and 95 %. */
  readonly expected: readonly number[]
  readonly ranges: readonly Range[]
  readonly deviation: number
  readonly sentence: string
}

/**
 * Forecasts one item from its history: method, expectation, range, and why.
 *
 * Periods between the last whole one and the first wanted one are forecast too and left out of the answer.
 *
 * Errors: null where nothing was ever sold or borrowed.
 */
export function forecastItem({ history, step, periods, symbol, wanted }: ForecastInput): ItemForecast | null {
  if (history === null || periods.length === 0) {
    return null
  }
  const gap = gapBetween(history.periods.at(-1)!, periods[0]!, step)
  const series = {
    ...history.series,
    nextDays: [...Array.from({ length: gap }, () => daysIn(periods[0]!)), ...periods.map(daysIn)],
  }
  const choice = chooseMethod(series, wanted)
  if (choice === null) {
    return null
  }
  const deviation = errorDeviation(choice.applied, series.values)
  const count = gap + periods.length
  return {
    choice,
    expected: choice.applied.forecast(count).slice(gap),
    ranges: rangesOf(choice.applied, deviation, count).slice(gap),
    deviation,
    sentence: describeChoice(choice, step, symbol),
  }
}

/** Whole periods between the two. */
function gapBetween(last: Period, first: Period, step: Step): number {
  const months = (day: string): number => Number(day.slice(0, 4)) * 12 + Number(day.slice(5, 7))
  if (step === 'month') {
    return Math.max(0, months(first.first) - months(last.first) - 1)
  }
  return Math.max(0, Math.floor((toDay(first.first) - toDay(last.last) - 1) / (step === 'week' ? 7 : 1)))
}
