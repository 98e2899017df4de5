/**
 * Spreads whole steps over places by the shape of weights so that they add up exactly: largest remainder, ties to the earlier place.
 * Where all weights are nought, evenly.
 *
 * @example 10 by 1, 1, 1 → 4, 3, 3
 */
export function spreadTotal(steps: bigint, weights: readonly number[]): bigint[] {
  if (weights.length === 0) {
    return []
  }
  const whole = weights.map((weight) => BigInt(Math.round(Math.max(0, weight) * 1e9)))
  const sum = whole.reduce((a, b) => a + b, 0n)
  const shares = sum === 0n ? whole.map(() => 1n) : whole
  const all = sum === 0n ? BigInt(weights.length) : sum
  const parts = shares.map((share) => (steps * share) / all)
  const order = shares
    .map((share, index) => ({ at: index, rest: (steps * share) % all }))
    .sort((a, b) => {
      if (a.rest > b.rest) {
        return -1
      }
      if (a.rest < b.rest) {
        return 1
      }
      return a.at - b.at
    })
  let left = steps - parts.reduce((a, b) => a + b, 0n)
  for (const { at: index } of order) {
    if (left <= 0n) {
      break
    }
    parts[index]! += 1n
    left -= 1n
  }
  return parts
}
