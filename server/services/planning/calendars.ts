import { sql } from 'drizzle-orm'
import type { PlanInput } from '~~/core/planning/input'
import { rows, type Reader } from '~~/server/database/client'
import { USUAL_WEEK } from './planned-sites'

/** Every calendar by its id, and the usual week of a company that has chosen none. */
export async function loadCalendars(reader: Reader): Promise<PlanInput['calendars']> {
  const found = await rows<{ id: number; weekdays: boolean[]; closed: string[] | null }>(
    reader,
    sql`
      select c.id, c.weekdays, (select json_agg(day order by day) from closed_days d where d.calendar_id = c.id) as closed
      from calendars c
      order by c.id`,
  )
  const week = { weekdays: [true, true, true, true, true, false, false], closed: [] }
  return {
    [USUAL_WEEK]: week,
    ...Object.fromEntries(found.map((c) => [String(c.id), { weekdays: c.weekdays, closed: c.closed ?? [] }])),
  }
}
