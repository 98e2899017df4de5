import { setTimeout as pause } from 'node:timers/promises'
import { databaseReady } from '~~/server/utils/database-state'
import { unavailable } from '~~/server/utils/refusal'

/** Milliseconds that a request waits for the database to be ready. */
const LONGEST = 10_000

/** Nothing is answered before the database is ready, but for the question whether it is. */
export default defineEventHandler(async (event) => {
  if (event.path.startsWith('/api/health/')) {
    return
  }
  const isReady = await Promise.race([
    databaseReady().then(
      () => true,
      () => false,
    ),
    pause(LONGEST, false, { ref: false }),
  ])
  if (!isReady) {
    setResponseHeader(event, 'retry-after', 5)
    return answerProblem(event, unavailable().problem)
  }
})
