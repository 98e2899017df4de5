import type { Step } from '~~/core/calendar/periods'

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']
/** How a period is headed: a month by name and year, a week and a day by its first day. */
export const periodLabel = (first: string, step: Step, day: (iso: string) => string): string =>
  step === 'month' ? `${MONTHS[Number(first.slice(5, 7)) - 1]} ${first.slice(0, 4)}` : day(first)
export const monthName = (index: number): string => MONTHS[index]!
