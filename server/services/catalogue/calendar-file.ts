import type { CalendarAnswer, CalendarTask } from '~~/server/jobs/calendar'
import { refuseField } from '~~/server/utils/refusal'
import { CutOff, threads } from '~~/server/utils/threads'
import type { ClosedDay } from './holidays'

/** Calendars of real firms take some hundredths of a second. */
const read = threads<CalendarTask, CalendarAnswer>('calendar', { memory: 128 })
const LONGEST = 4000
const ENDLESS = 'This calendar repeats something without end, and cannot be read. Take a simpler one.'

/**
 * Days that a calendar file marks, read in a thread so that no other request waits for it.
 *
 * Errors: those of the reading; `invalid-input` where it takes too long.
 */
export async function daysOfCalendarFile(text: string, today: string): Promise<readonly ClosedDay[]> {
  const answer = await read({ text, today }, { longest: LONGEST }).catch((error: unknown) => {
    if (error instanceof CutOff) {
      return { refused: ENDLESS }
    }
    throw error
  })
  return 'refused' in answer ? refuseField('text', answer.refused) : answer.days
}
