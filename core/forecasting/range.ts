import { normalQuantile } from './normal'
import type { Applied } from './series'

/** Between which figures the truth is expected to lie in 80 and in 95 of 100 periods. Stock units. */
export interface Range {
  readonly low80: number
  readonly high80: number
  readonly low95: number
  readonly high95: number
}

/**
 * Where the next periods lie with 80 and 95 % probability, errors taken as normal; never below zero.
 *
 * Units:  `sd` is the standard deviation of the error one period ahead, see `errorDeviation`.
 */
export function rangesOf(applied: Applied, sd: number, count: number): Range[] {
  const [z80, z95] = [normalQuantile(0.9), normalQuantile(0.975)]
  const widening = applied.widening(count)
  return applied.forecast(count).map((mean, i) => {
    const spread = sd * widening[i]!
    return {
      low80: Math.max(0, mean - z80 * spread),
      high80: mean + z80 * spread,
      low95: Math.max(0, mean - z95 * spread),
      high95: mean + z95 * spread,
    }
  })
}

/** Standard deviation of the one-step errors, less the degrees of freedom that the parameters took. */
export function errorDeviation(applied: Applied, values: readonly number[]): number {
  let [sum, count] = [0, 0]
  applied.fitted.forEach((said, t) => {
    if (said !== null) {
      sum += (values[t]! - said) ** 2
      count++
    }
  })
  return count === 0 ? 0 : Math.sqrt(sum / Math.max(1, count - Object.keys(applied.parameters).length))
}
