import { parts, ZERO, type Ratio } from '../units'
import type { Minor } from './moving-average'

/**
 * Shares an amount of money by weights; what rounding leaves over stays on the last line with a weight.
 *
 * Errors: throws where no weight is above zero.
 *
 * @example 100 by 1 : 1 : 1 → 33, 33, 34
 */
export function shareOut(total: Minor, weights: readonly Ratio[]): readonly Minor[] {
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
