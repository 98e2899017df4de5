/**
 * The value below which a standard normal one lies with probability `p`.
 *
 * Cost:   relative error below 1e-9, by one step of Halley on Acklam's approximation.
 * Source: P. J. Acklam, An algorithm for computing the inverse normal cumulative distribution function (coefficients
 *         from memory).
 */
export function normalQuantile(p: number): number {
  if (!(p > 0 && p < 1)) {
    throw new RangeError(`No quantile at ${p}`)
  }
  if (p > 0.5) {
    return -normalQuantile(1 - p)
  }
  const A = [
    -3.969683028665376e1, 2.209460984245205e2, -2.759285104469687e2, 1.38357751867269e2, -3.066479806614716e1,
    2.506628277459239,
  ]
  const B = [
    -5.447609879822406e1, 1.615858368580409e2, -1.556989798598866e2, 6.680131188771972e1, -1.328068155288572e1, 1,
  ]
  const C = [
    -7.784894002430293e-3, -3.223964580411365e-1, -2.400758277161838, -2.549732539343734, 4.374664141464968,
    2.938163982698783,
  ]
  const D = [7.784695709041462e-3, 3.224671290700398e-1, 2.445134137142996, 3.754408661907416, 1]
  const poly = (c: readonly number[], x: number): number => c.reduce((sum, a) => sum * x + a, 0)
  const tail = Math.sqrt(-2 * Math.log(p))
  const q = p - 0.5
  const x = p < 0.02425 ? poly(C, tail) / poly(D, tail) : (q * poly(A, q * q)) / poly(B, q * q)
  const error = (normalCdf(x) - p) * Math.sqrt(2 * Math.PI) * Math.exp((x * x) / 2)
  return x - error / (1 + (x * error) / 2)
}

/**
 * The probability that a standard normal value lies below `x`: by its series near the middle, by its continued fraction
 * in the tails.
 */
export function normalCdf(x: number): number {
  const density = Math.exp((-x * x) / 2) / Math.sqrt(2 * Math.PI)
  if (Math.abs(x) < 4) {
    let [sum, term] = [x, x]
    for (let k = 1; Math.abs(term) > 1e-17; k++) {
      term *= (x * x) / (2 * k + 1)
      sum += term
    }
    return 0.5 + density * sum
  }
  let fraction = 0
  for (let k = 60; k > 0; k--) {
    fraction = k / (Math.abs(x) + fraction)
  }
  const tail = density / (Math.abs(x) + fraction)
  return x < 0 ? tail : 1 - tail
}
