import { keepMonthEnds } from '~~/server/services/books/month-ends'
import { databaseReady } from '~~/server/utils/database-state'

const EVERY = 60_000

/** Looks once a minute whether a month is over, or was entered into late, and keeps what lay where at its end. */
export default defineNitroPlugin((nitro) => {
  let last = Promise.resolve()
  const look = (): void => {
    last = last
      .then(() => keepMonthEnds())
      .catch((error: Error) => console.error('Month ends not kept:', error.message))
  }
  const timer = setInterval(look, EVERY)
  databaseReady().then(look, () => undefined)
  nitro.hooks.hook('close', () => clearInterval(timer))
})
