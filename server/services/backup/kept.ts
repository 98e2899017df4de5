import { toDay } from '~~/core/calendar/days'

/** How many days, weeks and months back a backup of each is kept. */
const KEPT = { days: 14, weeks: 8, months: 12 } as const
const DAYS_A_WEEK = 7
const NAME = /^tsumiki-(\d{4}-\d{2}-\d{2})-\d{6}\.tar$/

/** The day of a backup by the name of its file; null where it is none of ours. */
export const dayOfBackup = (name: string): string | null => NAME.exec(name)?.[1] ?? null

/**
 * Which backups are no longer kept on a day: all of the last 14 days stay, of the last eight weeks and of the last
 * twelve months the newest of each. What is none of ours is never named.
 */
export function backupsToDrop(names: readonly string[], today: string): string[] {
  const ours = names.filter((name) => dayOfBackup(name) !== null).sort((a, b) => (a < b ? 1 : -1))
  const weeks = new Set<number>()
  const months = new Set<string>()
  const monthNow = monthNumber(today)
  return ours.filter((name) => {
    const day = dayOfBackup(name)!
    const age = toDay(today) - toDay(day)
    const week = Math.floor(toDay(day) / DAYS_A_WEEK)
    const month = day.slice(0, 'yyyy-mm'.length)
    const isFirstOfWeek = !weeks.has(week)
    const isFirstOfMonth = !months.has(month)
    weeks.add(week)
    months.add(month)
    const isKept =
      age <= KEPT.days ||
      (age <= KEPT.weeks * DAYS_A_WEEK && isFirstOfWeek) ||
      (monthNow - monthNumber(day) <= KEPT.months && isFirstOfMonth)
    return !isKept
  })
}

const monthNumber = (day: string): number => Number(day.slice(0, 4)) * 12 + Number(day.slice(5, 7))
