import type { CalendarAnswer, CalendarTask } from '~~/server/jobs/calendar'
import { refuseField } from '~~/server/utils/refusal'
import { threads } from '~~/server/utils/thread'
import type { ClosedDay } from './holidays'

/** Calendars of real firms take some hundredths of a second. */
const read = threads<CalendarTask, CalendarAnswer>('calendar', { longest: 4000, memory: 128 })
const ENDLESS = 'This calendar repeats something without end, and cannot be read. Take a simpler one.'

/**
 * Days that a calendar file marks, read in a thread so that no other request waits for it.
 *
 * Errors: those of the reading; `invalid-input` where it takes too long.
 */
export async function daysOfCalendarFile(text: string, today: string): Promise<readonly ClosedDay[]> {
  const answer = (await read({ text, today })) ?? { refused: ENDLESS }
  return 'refused' in answer ? refuseField('text', answer.refused) : answer.days
}
