import { shareByLargestRemainder } from '../sharing'

/** Weights are fractions of this much; finer differences do not count. */
const FINENESS = 1e9

/**
 * Spreads whole steps over places by the shape of weights so that they add up exactly: largest remainder, ties to the
 * earlier place. Where all weights are nought, evenly.
 *
 * @example 10 by 1, 1, 1 → 4, 3, 3
 */
export function spreadTotal(steps: bigint, weights: readonly number[]): readonly bigint[] {
  return shareByLargestRemainder(
    steps,
    weights.map((weight) => BigInt(Math.round(Math.max(0, weight) * FINENESS))),
  )
}
