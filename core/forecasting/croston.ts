import type { Method } from './series'

/**
 * Croston's method for what sells now and then: the size of a sale and the time between two are smoothed apart; their
 * ratio is what a period takes.
 *
 * Units:  `alpha` weighs the last sale, from 0 to 1.
 * Source: Croston, Forecasting and stock control for intermittent demands, Operational Research Quarterly 23 (1972);
 *         starting with
 *         the first sale and the periods up to it, as R's forecast::croston does.
 */
export const CROSTON: Method = {
  name: 'intermittent',
  needs({ values }) {
    const sold = values.filter((value) => value > 0).length
    return sold < 2 || sold === values.length ? Infinity : 4
  },
  tune({ values }, given = {}) {
    if (given.alpha !== undefined) {
      return given
    }
    // Weights above 0.3 run after single sales; what the trade uses lies below (common practice, no source).
    const error = (alpha: number): number => walk(values, alpha, null).sse
    return {
      alpha: [0.05, 0.1, 0.15, 0.2, 0.3].reduce((best, alpha) => (error(alpha) < error(best) ? alpha : best), 0.1),
    }
  },
  apply({ values }, parameters) {
    const fitted = Array.from<number | null>({ length: values.length }).fill(null)
    const end = walk(values, parameters.alpha!, fitted)
    return {
      method: 'intermittent',
      parameters,
      fitted,
      state: { size: end.size, interval: end.interval, sse: end.sse },
      forecast: (count) => Array.from<number>({ length: count }).fill(end.interval > 0 ? end.size / end.interval : 0),
      widening: (count) => Array.from<number>({ length: count }).fill(1),
    }
  },
}

function walk(
  values: readonly number[],
  alpha: number,
  fitted: (number | null)[] | null,
): { size: number; interval: number; sse: number } {
  let [size, interval, since, sse] = [0, 0, 0, 0]
  for (let t = 0; t < values.length; t++) {
    since++
    if (interval > 0) {
      const expected = size / interval
      if (fitted) {
        fitted[t] = expected
      }
      sse += (values[t]! - expected) ** 2
    }
    if (values[t]! <= 0) {
      continue
    }
    size = interval === 0 ? values[t]! : alpha * values[t]! + (1 - alpha) * size
    interval = interval === 0 ? since : alpha * since + (1 - alpha) * interval
    since = 0
  }
  return { size, interval, sse }
}
