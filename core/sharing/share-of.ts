import { nearestEven, ratio, ZERO, type Ratio } from '../units/exact'

/** The share of a sum that a part of a quantity has, to the minor unit; nothing of nothing. */
export const shareOf = (amount: bigint, part: Ratio, whole: Ratio): bigint =>
  whole.equals(ZERO) ? 0n : nearestEven(ratio(amount).mul(part).div(whole))
