import { pool } from '~~/server/database/client'
import { startWorkers } from '~~/server/jobs/workers'
import { databaseReady } from '~~/server/utils/database-state'
import { doesWork } from '~~/server/utils/program-role'
import { logProblem } from '~~/server/utils/log'

/** Prepares the database, and then does what is done in the background, where that is for this program to do. */
export default defineNitroPlugin((nitro) => {
  let begun: Promise<(() => Promise<void>) | null> = Promise.resolve(null)
  databaseReady().then(
    () => {
      if (doesWork()) {
        begun = startWorkers()
        begun.catch((error: Error) => logProblem('No background work', error))
      }
    },
    () => undefined,
  )
  nitro.hooks.hook('close', async () => {
    const stop = await begun.catch(() => null)
    await stop?.()
    await pool.end()
  })
})
