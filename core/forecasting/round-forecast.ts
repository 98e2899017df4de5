import { ratio, type Ratio } from '../units/exact'

/**
 * Forecasts as quantities: whole finest steps, rounded so that every running total is the nearest to that of the
 * forecasts. What sells 0.4 a week is forecast 2 in five weeks, not five times nothing. The one place where floats
 * become quantities.
 *
 * @example 0.4, 0.4, 0.4, 0.4, 0.4 in whole pieces → 0, 1, 0, 1, 0
 */
export function roundForecasts(values: readonly number[], finestStep: Ratio): Ratio[] {
  const step = Number(finestStep.valueOf())
  let [sum, before] = [0, 0]
  return values.map((value) => {
    if (!Number.isFinite(value)) {
      throw new RangeError(`A forecast of ${value} is no quantity`)
    }
    sum += Math.max(0, value) / step
    const now = Math.round(sum - 1e-9)
    const steps = now - before
    before = now
    return finestStep.mul(ratio(BigInt(steps)))
  })
}
