import { parts, ZERO, type Ratio } from '../units/exact'

/**
 * Shares whole steps by whole weights so that the parts add up exactly.
 *
 * Largest remainder (Hamilton): each gets the floor of its share; the steps left go one each to the largest fractions,
 * of equal ones to the first. Where all weights are nought, evenly.
 *
 * Source: Balinski & Young, Fair Representation (1982), method of Hamilton.
 *
 * @example 10 by 1 : 1 : 1 → 4, 3, 3
 */
export function shareByLargestRemainder(total: bigint, weights: readonly bigint[]): readonly bigint[] {
  const sum = weights.reduce((a, b) => a + b, 0n)
  if (sum === 0n && weights.length > 0) {
    return shareByLargestRemainder(
      total,
      weights.map(() => 1n),
    )
  }
  const shares = weights.map((weight) => (total * weight) / sum)
  const byRemainder = weights
    .map((weight, index) => ({ index, remainder: (total * weight) % sum }))
    .sort((a, b) => compare(b.remainder, a.remainder) || a.index - b.index)
  const left = Number(total - shares.reduce((a, b) => a + b, 0n))
  for (const { index } of byRemainder.slice(0, left)) {
    shares[index]! += 1n
  }
  return shares
}

/**
 * Shares an amount of money by weights; what rounding leaves over stays on the last line with a weight.
 *
 * Units: minor units of one currency. Errors: throws where no weight is above zero.
 *
 * @example 100 by 1 : 1 : 1 → 33, 33, 34
 */
export function shareAmount(total: bigint, weights: readonly Ratio[]): readonly bigint[] {
  const sum = weights.reduce((a, b) => a.add(b), ZERO)
  if (sum.compare(ZERO) <= 0) {
    throw new Error('Nothing to share by')
  }
  const last = weights.findLastIndex((weight) => weight.compare(ZERO) > 0)
  let left = total
  const shares = weights.map((weight, index) => {
    if (index === last) {
      return 0n
    }
    const { n, d } = parts(weight.div(sum))
    const share = (total * n) / d
    left -= share
    return share
  })
  shares[last] = left
  return shares
}

function compare(a: bigint, b: bigint): number {
  if (a === b) {
    return 0
  }
  return a < b ? -1 : 1
}
