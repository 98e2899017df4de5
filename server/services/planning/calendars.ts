import type { PlanInput } from '~~/core/planning/input'
import type { Reader } from '~~/server/database/client'
import { readCalendars, USUAL_WEEKDAYS } from '../company/calendars'
import { USUAL_WEEK } from './planned-sites'

/** Every calendar by its id, and the usual week of a company that has chosen none. */
export async function loadCalendars(reader: Reader): Promise<PlanInput['calendars']> {
  const found = await readCalendars(reader)
  return {
    [USUAL_WEEK]: { weekdays: [...USUAL_WEEKDAYS], closed: [] },
    ...Object.fromEntries(found.map(({ id, weekdays, closed }) => [String(id), { weekdays, closed }])),
  }
}
