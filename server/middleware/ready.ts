import { databaseReady } from '~~/server/utils/database-state'

/** Nothing is answered before the database is ready, but for the question whether it is. */
export default defineEventHandler(async (event) => {
  if (!event.path.startsWith('/api/company/health')) {
    await databaseReady()
  }
})
