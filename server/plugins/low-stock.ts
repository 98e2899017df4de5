import { dailyLowStock } from '~~/server/services/stock/low-stock'
import { databaseReady } from '~~/server/utils/database-state'

const EVERY = 60_000

/** Looks once a minute whether a new day has begun; on each, what runs low is found and mailed. */
export default defineNitroPlugin((nitro) => {
  let last: Promise<unknown> = Promise.resolve()
  const checkDue = (): void => {
    last = last
      .then(() => dailyLowStock())
      .catch((error: Error) => console.error('Low stock not looked for:', error.message))
  }
  const timer = setInterval(checkDue, EVERY)
  databaseReady().then(checkDue, () => undefined)
  nitro.hooks.hook('close', () => clearInterval(timer))
})
