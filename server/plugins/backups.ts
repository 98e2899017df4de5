import { dailyBackup } from '~~/server/services/backup/daily'
import { databaseReady } from '~~/server/utils/database-state'

const EVERY = 10 * 60_000

/** Backs up once a night, whichever server comes first. */
export default defineNitroPlugin((nitro) => {
  let last: Promise<unknown> = Promise.resolve()
  const checkDue = (): void => {
    last = last.then(() => dailyBackup(new Date())).catch((error: Error) => console.error('No backup:', error.message))
  }
  const timer = setInterval(checkDue, EVERY)
  databaseReady().then(checkDue, () => undefined)
  nitro.hooks.hook('close', () => clearInterval(timer))
})
