import { ratio, type Ratio } from '../units'

/** A forecast as a quantity: the nearest whole finest step. The one place where a float becomes a quantity. */
export function roundForecast(value: number, finestStep: Ratio): Ratio {
  if (!Number.isFinite(value)) throw new RangeError(`A forecast of ${value} is no quantity`)
  const step = Number(finestStep.valueOf())
  return finestStep.mul(ratio(BigInt(Math.max(0, Math.round(value / step)))))
}
