import { setTimeout as pause } from 'node:timers/promises'
import { isUnavailable } from '~~/server/database/unavailable'
import { prepareDatabase } from '~~/server/services/company/prepare'
import { logProblem } from '~~/server/utils/log'

/** `isFinal`: trying again cannot help; somebody has to do what `detail` says. */
interface State {
  readonly ready: boolean
  readonly detail?: string
  readonly isFinal?: boolean
}
let state: State = { ready: false }
let preparing: Promise<void> | null = null
/** Milliseconds from one try to the next where the database does not answer. */
const AGAIN = 2000

export const databaseState = (): State => state

/**
 * Prepares the database once. Where it does not answer yet it is tried again until it does; rejects only where that
 * cannot help.
 */
export function databaseReady(): Promise<void> {
  preparing ??= prepare()
  return preparing
}

async function prepare(): Promise<void> {
  for (;;) {
    try {
      await prepareDatabase(process.env.TSUMIKI_BEGIN === 'empty' ? 'empty' : 'demo')
      state = { ready: true }
      return
    } catch (error) {
      const isFinal = !isUnavailable(error)
      state = { ready: false, detail: wordsOf(error as Error), isFinal }
      logProblem('The database is not ready', isFinal ? error : state.detail)
      if (isFinal) {
        throw error
      }
    }
    await pause(AGAIN)
  }
}

function wordsOf(error: Error): string {
  const cause = error.cause as Error | undefined
  return (error as { detail?: string }).detail ?? (cause?.message || error.message || 'The database does not answer.')
}
