import { BeyondLimit, exactly } from '../compile'
import type { Multiple } from '../input'

/** More orders for one need than anybody places. */
const MOST_PARTS = 10_000

export interface Sized {
  readonly quantity: number
  readonly times: number
}

/** A quantity up to the next multiple, in whole steps: the multiple itself need not fall on a step. */
export function upToMultiple(needed: number, { numerator, denominator }: Multiple): Sized {
  // Below 2^51 the quotient's error cannot reach the next whole number, so plain numbers are exact.
  if (denominator === '1' && needed < 2 ** 51) {
    const multiple = Number(numerator)
    const times = Math.ceil(needed / multiple)
    if (Number.isSafeInteger(times * multiple)) {
      return { quantity: times * multiple, times }
    }
  }
  const [n, d] = [BigInt(numerator), BigInt(denominator)]
  const times = (BigInt(needed) * d + n - 1n) / n
  return { quantity: exactly(stepsOf(times, n, d)), times: Number(times) }
}

const stepsOf = (times: bigint, n: bigint, d: bigint): number => Number((times * n + d - 1n) / d)

/**
 * The most that may be asked for so that the order, up to its multiple, stays below a limit; 0 where there is nothing.
 */
export function mostBelow(limit: number, multiple: Multiple): number {
  let asked = limit - 1
  while (asked > 0 && upToMultiple(asked, multiple).quantity >= limit) {
    // Down to the end of the multiple before.
    const [n, d] = [BigInt(multiple.numerator), BigInt(multiple.denominator)]
    const times = (BigInt(asked) * d + n - 1n) / n - 1n
    asked = Math.min(asked - 1, Number((times * n) / d))
  }
  return Math.max(0, asked)
}

/**
 * Sizes what a rule asks for: at least the minimum, up to the multiple, split where it is more than the maximum. Each
 * part is a whole number of multiples; the last, smaller one is at least the minimum. Throws `BeyondLimit` where that
 * would be thousands of orders.
 */
export function splitOrder(
  asked: number,
  minimum: number,
  multiple: Multiple,
  maximum: number | undefined,
): readonly Sized[] {
  const whole = upToMultiple(Math.max(asked, minimum), multiple)
  if (maximum === undefined || whole.quantity <= maximum) {
    return [whole]
  }
  const [n, d] = [BigInt(multiple.numerator), BigInt(multiple.denominator)]
  const least = upToMultiple(Math.max(1, minimum), multiple).times
  const most = Math.max(Number((BigInt(maximum) * d) / n), least)
  const part = (times: number): Sized => ({ quantity: stepsOf(BigInt(times), n, d), times })
  const full = Math.floor(whole.times / most)
  if (full > MOST_PARTS) {
    throw new BeyondLimit('orders')
  }
  const rest = whole.times - full * most
  return [
    ...Array.from({ length: full }, () => part(most)),
    ...(rest > 0 ? [part(minimum > 0 ? Math.max(rest, least) : rest)] : []),
  ]
}
