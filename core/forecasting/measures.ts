/**
 * How far forecasts were off. `bias` is forecast less actual on average; `mape` in per cent, over periods with sales;
 * `mase` in errors of the naive method. Null where it cannot be said.
 */
export interface ErrorMeasures {
  readonly count: number
  readonly bias: number
  readonly mae: number
  readonly rmse: number
  readonly mape: number | null
  readonly mase: number | null
}

/**
 * Error measures of forecasts against what came.
 *
 * `scale` is the mean absolute error of the (seasonal) naive method within the training part, see `naiveScale`.
 *
 * Source: Hyndman & Koehler, Another look at measures of forecast accuracy, International Journal of Forecasting 22
 *         (2006).
 */
export function measureErrors(
  actual: readonly number[],
  forecast: readonly number[],
  scale: number | null,
): ErrorMeasures {
  const count = actual.length
  let [bias, mae, square, share, shares] = [0, 0, 0, 0, 0]
  for (let i = 0; i < count; i++) {
    const error = forecast[i]! - actual[i]!
    bias += error
    mae += Math.abs(error)
    square += error * error
    if (actual[i]! !== 0) {
      share += Math.abs(error / actual[i]!)
      shares++
    }
  }
  return {
    count,
    bias: bias / count,
    mae: mae / count,
    rmse: Math.sqrt(square / count),
    mape: shares > 0 ? (share / shares) * 100 : null,
    mase: scale !== null && scale > 0 ? mae / count / scale : null,
  }
}

/** The mean absolute step from each period to the same one a round before; null where there is no full round. */
export function naiveScale(training: readonly number[], period: number): number | null {
  const back = training.length > period ? period : 1
  if (training.length <= back) {
    return null
  }
  let sum = 0
  for (let t = back; t < training.length; t++) {
    sum += Math.abs(training[t]! - training[t - back]!)
  }
  return sum / (training.length - back)
}
