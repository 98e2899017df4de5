import path from 'node:path'
import Piscina from 'piscina'
import type { CalendarAnswer, CalendarTask } from '~~/server/jobs/calendar'
import { Refusal } from '~~/server/utils/refusal'
import { shippedFiles } from '~~/server/utils/shipped-files'
import type { ClosedDay } from './holidays'

/** Milliseconds and MiB that the reading of one calendar may take: those of real firms take some hundredths. */
const LONGEST = 4000
const MEMORY = { maxOldGenerationSizeMb: 128 }
let pool: Piscina<CalendarTask, CalendarAnswer> | null = null

/**
 * Days that a calendar file marks, read in a thread so that no other request waits for it.
 *
 * Errors: those of the reading; `invalid-input` where it takes too long.
 */
export async function daysOfCalendarFile(text: string, today: string): Promise<readonly ClosedDay[]> {
  pool ??= new Piscina<CalendarTask, CalendarAnswer>({
    filename: path.join(shippedFiles('worker'), 'calendar.mjs'),
    minThreads: 0,
    maxThreads: 2,
    idleTimeout: 10_000,
    resourceLimits: MEMORY,
  })
  const answer = await pool.run({ text, today }, { signal: AbortSignal.timeout(LONGEST) }).catch((error: Error) => {
    if (error.name === 'AbortError' || error.message.includes('memory limit')) {
      return { refused: 'This calendar repeats something without end, and cannot be read. Take a simpler one.' }
    }
    throw error
  })
  if ('refused' in answer) {
    throw new Refusal('invalid-input', answer.refused, { text: answer.refused })
  }
  return answer.days
}
