import { measureErrors, naiveScale, type ErrorMeasures } from './measures'
import type { Method, Parameters, Series } from './series'

export interface Backtested {
  readonly method: Method
  readonly parameters: Parameters
  readonly errors: ErrorMeasures
}

/** Which periods are forecast again: the last `origins`, each up to `ahead` periods before it came. */
export interface BacktestSpan {
  readonly origins: number
  readonly ahead: number
}

/** No more origins than these. */
const MOST = 12

/**
 * How far back it is worth testing: the last third, a year of months at most, and not so far that the seasonal methods,
 * which begin with two whole rounds, cannot take part where they could. Null where there is too little for any test.
 */
export function spanOf({ values, period }: Series, ahead = 3): BacktestSpan | null {
  const third = Math.min(MOST, Math.floor(values.length / 3))
  const seasonal = values.length - (2 * period + 1)
  const origins = period > 1 && seasonal >= 3 ? Math.min(third, seasonal) : third
  return origins >= 2 ? { origins, ahead: Math.min(ahead, origins) } : null
}

/**
 * Rolling-origin test: from each of the last origins the method says the periods ahead, knowing only what came before.
 *
 * Weights are chosen once, on what lies before the first origin; then the method takes in period by period. So nothing
 * it is judged by was seen when it was chosen.
 *
 * Shape:  null where the method does not suit what lies before the first origin.
 * Source: Tashman, Out-of-sample tests of forecasting accuracy, International Journal of Forecasting 16 (2000).
 */
export function backtest(
  method: Method,
  series: Series,
  { origins, ahead }: BacktestSpan,
  given?: Parameters,
): Backtested | null {
  const n = series.values.length
  const upTo = (end: number): Series => ({
    ...series,
    values: series.values.slice(0, end),
    ...(series.days && { days: series.days.slice(0, end), nextDays: series.days.slice(end) }),
  })
  const training = upTo(n - origins)
  if (training.values.length < method.needs(training)) {
    return null
  }
  const parameters = method.tune(training, given)
  const [actual, forecast]: [number[], number[]] = [[], []]
  for (let origin = n - origins; origin < n; origin++) {
    const count = Math.min(ahead, n - origin)
    const said = method.apply(upTo(origin), parameters).forecast(count)
    for (let i = 0; i < count; i++) {
      actual.push(series.values[origin + i]!)
      forecast.push(said[i]!)
    }
  }
  const errors = measureErrors(actual, forecast, naiveScale(training.values, series.period))
  return Number.isFinite(errors.rmse) ? { method, parameters, errors } : null
}
