import { pool } from '~~/server/database/client'
import { databaseReady } from '~~/server/utils/database-state'

export default defineNitroPlugin((nitro) => {
  databaseReady().catch(() => undefined)
  nitro.hooks.hook('close', () => pool.end())
})
