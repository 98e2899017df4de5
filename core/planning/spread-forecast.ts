import { isWorking, type Day, type WorkingCalendar } from '../calendar'

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
  const each = Math.floor(quantity / days.length)
  const extra = quantity - each * days.length
  return days
    .map((day, index) => ({ day, quantity: each + (index < extra ? 1 : 0) }))
    .filter((part) => part.quantity > 0)
}

/**
 * Shares whole steps out by whole weights so that they add up exactly.
 *
 * Largest remainder (Hamilton): each gets the floor of its share; the steps left go one each to the largest fractions, of equal ones to the first.
 *
 * @example 10 by 1 : 1 : 1 → 4, 3, 3
 */
export function shareOut(quantity: number, weights: readonly number[]): readonly number[] {
  const total = weights.reduce((sum, weight) => sum + BigInt(weight), 0n)
  const parts = weights.map((weight) => Number((BigInt(quantity) * BigInt(weight)) / total))
  const rests = weights.map((weight, index) => ({ index, rest: (BigInt(quantity) * BigInt(weight)) % total }))
  const left = quantity - parts.reduce((sum, part) => sum + part, 0)
  for (const { index } of rests
    .sort((a, b) => {
      if (a.rest === b.rest) {
        return a.index - b.index
      }
      if (a.rest > b.rest) {
        return -1
      }
      return 1
    })
    .slice(0, left)) {
    parts[index]!++
  }
  return parts
}
