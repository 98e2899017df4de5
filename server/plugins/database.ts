import { pool } from '~~/server/database/client'
import { startWorkers } from '~~/server/jobs/workers'
import { databaseReady } from '~~/server/utils/database-state'
import { doesWork } from '~~/server/utils/program-role'

/** Prepares the database, and then does what is done in the background, where that is for this program to do. */
export default defineNitroPlugin((nitro) => {
  let stop: (() => Promise<void>) | null = null
  databaseReady().then(
    () => {
      stop = doesWork() ? startWorkers() : null
    },
    () => undefined,
  )
  nitro.hooks.hook('close', async () => {
    await stop?.()
    await pool.end()
  })
})
