import { sql, type SQL } from 'drizzle-orm'
import { makeCalendar, type WorkingCalendar } from '~~/core/calendar/working'
import { rows, type Reader } from '~~/server/database/client'

/** Monday to Friday: the week of a company that has chosen none. */
export const USUAL_WEEKDAYS: readonly boolean[] = [true, true, true, true, true, false, false]

export interface StoredCalendar {
  readonly id: number
  readonly weekdays: boolean[]
  /** Hours of work on a working day, all hands together; null where nobody has said. */
  readonly hours: string | null
  /** ISO 8601. */
  readonly closed: string[]
}

/** Calendars with their closed days: all of them, or those that a condition on `c` names. */
export const readCalendars = (reader: Reader, where: SQL = sql`true`): Promise<StoredCalendar[]> =>
  rows<StoredCalendar>(
    reader,
    sql`
      select
        c.id, c.weekdays, c.work_hours as hours,
        coalesce((select json_agg(day order by day) from closed_days d where d.calendar_id = c.id), '[]') as closed
      from calendars c
      where ${where}
      order by c.id`,
  )

/** By which calendar a site works: its own, else the company's (also of no site), else the usual week. */
export async function loadWorkingCalendar(
  reader: Reader,
  site: number | null,
): Promise<{ readonly calendar: WorkingCalendar; readonly hours: string | null }> {
  const [found] = await readCalendars(
    reader,
    sql`c.id = coalesce((select calendar_id from sites where id = ${site}), (select calendar_id from company))`,
  )
  return {
    calendar: makeCalendar(found?.weekdays ?? USUAL_WEEKDAYS, found?.closed ?? []),
    hours: found?.hours ?? null,
  }
}
