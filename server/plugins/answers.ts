import { forgetAnswers } from '~~/server/database/transactions'
import { clearOld } from '~~/server/services/people/clear'
import { databaseReady } from '~~/server/utils/database-state'

const EVERY = 24 * 60 * 60_000
/** Nobody sends an act again after so many days. */
const KEPT_DAYS = 30

/** Forgets once a day the answers that are kept for acts sent twice, and what opens nothing any more. */
export default defineNitroPlugin((nitro) => {
  const forget = (): void => {
    forgetAnswers(KEPT_DAYS).catch((error: Error) => console.error('Answers not forgotten:', error.message))
    clearOld().catch((error: Error) => console.error('Old sessions not cleared:', error.message))
  }
  const timer = setInterval(forget, EVERY)
  databaseReady().then(forget, () => undefined)
  nitro.hooks.hook('close', () => clearInterval(timer))
})
