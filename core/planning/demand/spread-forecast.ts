import { isWorking, type WorkingCalendar } from '../../calendar/working'
import type { Day } from '../../calendar/days'
import { shareByLargestRemainder } from '../../sharing'

/**
 * Spreads a period's forecast over its working days so that whole steps add up exactly.
 *
 * Largest remainder: every day gets the floor of its even share; the steps left go one each to the earliest days.
 * A period without a working day falls on its first day.
 *
 * @example 12 over five days → 3, 3, 2, 2, 2
 */
export function spreadForecast(
  quantity: number,
  first: Day,
  last: Day,
  calendar: WorkingCalendar,
): readonly { readonly day: Day; readonly quantity: number }[] {
  const days: Day[] = []
  for (let day = first; day <= last; day++) {
    if (isWorking(calendar, day)) {
      days.push(day)
    }
  }
  if (days.length === 0) {
    days.push(first)
  }
  const shares = shareSteps(
    quantity,
    days.map(() => 1),
  )
  return days.map((day, index) => ({ day, quantity: shares[index]! })).filter((part) => part.quantity > 0)
}

/**
 * Shares whole steps out by whole weights so that they add up exactly, by largest remainder.
 *
 * Units: whole finest steps, below 2^53.
 *
 * @example 10 by 1 : 1 : 1 → 4, 3, 3
 */
export function shareSteps(quantity: number, weights: readonly number[]): readonly number[] {
  return shareByLargestRemainder(
    BigInt(quantity),
    weights.map((weight) => BigInt(weight)),
  ).map(Number)
}
