import { readCalendarFile, type ClosedDay } from '~~/server/services/catalogue/holidays'
import { Refusal } from '~~/server/utils/refusal'

export interface CalendarTask {
  readonly text: string
  readonly today: string
}
export type CalendarAnswer = { readonly days: readonly ClosedDay[] } | { readonly refused: string }

/** Reads a calendar in a thread of its own; a refusal is told as text, as errors lose their kind on the way. */
export default function readInThread({ text, today }: CalendarTask): CalendarAnswer {
  try {
    return { days: readCalendarFile(text, today) }
  } catch (error) {
    if (error instanceof Refusal) {
      return { refused: error.detail }
    }
    throw error
  }
}
