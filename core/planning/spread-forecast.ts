import { isWorking, type Day, type WorkingCalendar } from '../calendar'

/**
 * Spreads a period's forecast over its working days so that whole steps add up exactly.
 *
 * Largest remainder: every day gets the floor of its even share; the steps left go one each to the earliest days.
 * A period without a working day falls on its first day.
 *
 * @example 12 over five days → 3, 3, 2, 2, 2
 */
export function spreadForecast(quantity: number, first: Day, last: Day, calendar: WorkingCalendar): readonly { readonly day: Day, readonly quantity: number }[] {
  const days: Day[] = []
  for (let day = first; day <= last; day++) if (isWorking(calendar, day)) days.push(day)
  if (days.length === 0) days.push(first)
  const each = Math.floor(quantity / days.length)
  const extra = quantity - each * days.length
  return days.map((day, index) => ({ day, quantity: each + (index < extra ? 1 : 0) })).filter(part => part.quantity > 0)
}
