import { backtest, spanOf, type BacktestSpan } from './backtest'
import type { ErrorMeasures } from './measures'
import { allMethods, methodOf } from './methods'
import { isIntermittent, type Applied, type MethodName, type Parameters, type Series } from './series'

/** One method of the comparison; without errors where it could not be tested. */
export interface Compared {
  readonly method: MethodName
  readonly errors: ErrorMeasures | null
}

/**
 * Why a method was taken: tested best, tested nearly best and simpler, wanted by a person, or because there is too
 * little to test.
 */
export type ChoiceReason = 'best' | 'simpler' | 'wanted' | 'too short'

export interface Choice {
  readonly applied: Applied
  readonly reason: ChoiceReason
  readonly span: BacktestSpan | null
  readonly compared: readonly Compared[]
  readonly isIntermittent: boolean
}

/** A simpler method is taken where its error is no more than this much above the least. */
const CLOSE = 1.02

/**
 * Applies the wanted method, or the one that was least off in a rolling-origin test, to the series.
 *
 * Least off is meant in squares (RMSE): what is bought for the mean of what comes should not lean to one side, as the
 * least absolute error does where most periods are empty. With too little history for a test, the average is taken.
 *
 * Errors: null where there is not a single sale.
 */
export function chooseMethod(
  series: Series,
  wanted: { readonly method: MethodName; readonly parameters?: Parameters } | null = null,
): Choice | null {
  if (!series.values.some((value) => value > 0)) {
    return null
  }
  const span = spanOf(series)
  const tested =
    span === null
      ? []
      : allMethods.flatMap((method) => {
          const found = backtest(method, series, span, method.name === wanted?.method ? wanted.parameters : undefined)
          return found && method.needs(series) <= series.values.length ? [found] : []
        })
  const compared = allMethods
    .filter((method) => method.needs(series) <= series.values.length || method.name === wanted?.method)
    .map((method) => ({
      method: method.name,
      errors: tested.find((result) => result.method === method)?.errors ?? null,
    }))
  const { method: name, reason } =
    wanted && methodOf(wanted.method).needs(series) <= series.values.length
      ? { method: wanted.method, reason: 'wanted' as const }
      : pick(tested.map((result) => ({ method: result.method.name, rmse: result.errors.rmse })))
  const method = methodOf(name)
  return {
    applied: method.apply(series, method.tune(series, wanted?.method === name ? wanted.parameters : undefined)),
    reason,
    span,
    compared,
    isIntermittent: isIntermittent(series.values),
  }
}

/** Methods come from the simplest on. */
function pick(tested: readonly { method: MethodName; rmse: number }[]): { method: MethodName; reason: ChoiceReason } {
  if (tested.length === 0) {
    return { method: 'average', reason: 'too short' }
  }
  const best = tested.reduce((a, b) => (b.rmse < a.rmse ? b : a))
  const simple = tested.find((result) => result.rmse <= best.rmse * CLOSE)!
  return { method: simple.method, reason: simple === best ? 'best' : 'simpler' }
}
