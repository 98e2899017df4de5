import { keepMonthEnds } from '~~/server/services/books/month-ends'
import { databaseReady } from '~~/server/utils/database-state'

const EVERY = 60_000

/** Looks once a minute whether a month is over, or was entered into late, and keeps what lay where at its end. */
export default defineNitroPlugin((nitro) => {
  let last = Promise.resolve()
  const checkDue = (): void => {
    last = last
      .then(() => keepMonthEnds())
      .catch((error: Error) => console.error('Month ends not kept:', error.message))
  }
  const timer = setInterval(checkDue, EVERY)
  databaseReady().then(checkDue, () => undefined)
  nitro.hooks.hook('close', () => clearInterval(timer))
})
