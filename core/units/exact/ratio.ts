import Fraction from 'fraction.js'

/** An exact rational number on BigInt; immutable. */
export type Ratio = Fraction

const DECIMAL = /^[+-]?(\d+(\.\d*)?|\.\d+)$/
const known = new Map<string, Ratio>()
const FRACTION = /^[+-]?\d+\/\d+$/

/**
 * Builds an exact rational from text (`"0.4536"`, `"1/3"`), a BigInt or a whole number.
 *
 * Errors: throws on a float, on text that is no plain decimal or fraction, and on a zero denominator; a float would
 * silently become an approximation.
 */
export function ratio(value: string | bigint | number | Ratio, denominator: bigint | number = 1n): Ratio {
  if (value instanceof Fraction) {
    return value.div(new Fraction(BigInt(denominator)))
  }
  if (typeof value === 'string') {
    const before = known.get(value)
    if (before) {
      return before
    }
    const text = value.trim()
    if (!DECIMAL.test(text) && !FRACTION.test(text)) {
      throw new Error(`Not an exact number: ${value}`)
    }
    const read = new Fraction(text)
    // The same few texts are read again and again: steps, contents, quantities of bills.
    if (known.size >= 4096) {
      known.clear()
    }
    if (value.length <= 12) {
      known.set(value, read)
    }
    return read
  }
  if (typeof value === 'number' && !Number.isSafeInteger(value)) {
    throw new Error(`Not a whole number: ${value}`)
  }
  return new Fraction(BigInt(value), BigInt(denominator))
}

/** Whether a value is an exact amount rather than text. */
export const isRatio = (value: unknown): value is Ratio => value instanceof Fraction

/** Nothing. */
export const ZERO: Ratio = new Fraction(0n)
/** One. */
export const ONE: Ratio = new Fraction(1n)

/** Numerator with its sign, and denominator (> 0), in lowest terms. */
export const parts = (value: Ratio): { readonly n: bigint; readonly d: bigint } => ({
  n: value.s * value.n,
  d: value.d,
})

/** Whether the value can be written as a decimal that ends. */
export function terminates(value: Ratio): boolean {
  let d = value.d
  for (const prime of [2n, 5n]) {
    while (d % prime === 0n) {
      d /= prime
    }
  }
  return d === 1n
}

/**
 * Writes a value so that reading it gives the same value: a decimal where one ends, else `n/d`.
 *
 * @example 1/8 → "0.125", 1/3 → "1/3"
 */
export function toText(value: Ratio): string {
  if (!terminates(value)) {
    return `${value.s * value.n}/${value.d}`
  }
  let places = 0
  let scaled = value
  while (scaled.d !== 1n) {
    scaled = scaled.mul(10)
    places++
  }
  return decimalText(scaled.s * scaled.n, places)
}

/** Rounds to `places` decimals, ties to even, and writes all of them. */
export function toDecimal(value: Ratio, places: number): string {
  return decimalText(nearestEven(value.mul(new Fraction(10n ** BigInt(places)))), places)
}

/** The nearest whole number, ties to the even neighbour. */
export function nearestEven(value: Ratio): bigint {
  const { n, d } = parts(value)
  const floor = n >= 0n ? n / d : -((-n + d - 1n) / d)
  const twice = (n - floor * d) * 2n
  if (twice < d) {
    return floor
  }
  if (twice > d) {
    return floor + 1n
  }
  return floor % 2n === 0n ? floor : floor + 1n
}

/** The least whole number that is not below the value. */
export function upwards(value: Ratio): bigint {
  const { n, d } = parts(value)
  return n >= 0n ? (n + d - 1n) / d : -(-n / d)
}

function decimalText(whole: bigint, places: number): string {
  const sign = whole < 0n ? '-' : ''
  const digits = (whole < 0n ? -whole : whole).toString().padStart(places + 1, '0')
  return places === 0 ? sign + digits : `${sign}${digits.slice(0, -places)}.${digits.slice(-places)}`
}
