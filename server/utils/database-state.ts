import { prepareDatabase } from '~~/server/services/company/prepare'

let state: { ready: boolean; detail?: string } = { ready: false }
let preparing: Promise<void> | null = null

export const databaseState = (): { ready: boolean; detail?: string } => state

/** Prepares the database once; every request waits for it. */
export function databaseReady(): Promise<void> {
  preparing ??= prepareDatabase(process.env.TSUMIKI_BEGIN === 'empty' ? 'empty' : 'demo').then(
    () => {
      state = { ready: true }
    },
    (error: Error) => {
      console.error(error)
      const cause = error.cause as Error | undefined
      state = { ready: false, detail: (error as { detail?: string }).detail ?? cause?.message ?? error.message }
      throw error
    },
  )
  return preparing
}
