import { statfs } from 'node:fs/promises'
import { setTimeout as pause } from 'node:timers/promises'
import { pool } from '~~/server/database/client'
import { databaseState } from '~~/server/utils/database-state'

export interface Ready {
  readonly ready: boolean
  /** What is wrong, in words; trying again cannot help where it is final. */
  readonly detail?: string
  readonly isFinal?: boolean
}
/** Milliseconds within which the database has to answer. */
const LONGEST = 2000
/** Bytes that have to be free where the program writes. */
const LEAST_FREE = 200 * 1024 * 1024

/** Whether the database is prepared and answers now, and there is room to write. */
export async function checkReady(): Promise<Ready> {
  const state = databaseState()
  if (!state.ready) {
    return state
  }
  const answers = await Promise.race([
    pool.query('select 1').then(
      () => true,
      () => false,
    ),
    pause(LONGEST, false, { ref: false }),
  ])
  if (!answers) {
    return { ready: false, detail: 'The database does not answer.' }
  }
  const { bavail, bsize } = await statfs(process.cwd())
  return bavail * bsize < LEAST_FREE
    ? { ready: false, detail: `Less than ${LEAST_FREE / 1024 / 1024} MB are free on the disk.` }
    : { ready: true }
}
