import { fileURLToPath } from 'node:url'
import { orStop, say } from './lib/say.mjs'
import { withDatabase } from './lib/with-database.mjs'

const root = fileURLToPath(new URL('..', import.meta.url))
const WORDS = { good: 'in order    ', look: 'look at it  ', bad: 'NOT IN ORDER' }

/**
 * `npm run doctor [-- --demo]`: looks at the database, its settings, the clocks, the disk, backups, background work,
 * letters and the ledger, beside a running server or without one; each with a sentence, and with what to do. Ends with
 * 1 where something is not in order.
 */
await orStop(
  withDatabase(root, 'server/services/running/index.ts', async ({ examine, checkLedgerNow, closeDatabase }) => {
    try {
      const checks = (await examine()).filter(({ name }) => name !== 'Ledger' && name !== 'Program')
      for (const { name, state, said, remedy } of [...checks, await checkLedgerNow()]) {
        process.stdout.write(`  ${WORDS[state]}  ${name}: ${said}${remedy ? `\n                ${remedy}` : ''}\n`)
        process.exitCode = state === 'bad' ? 1 : process.exitCode
      }
      say(process.exitCode === 1 ? 'Something is not in order' : 'Everything that must be is in order')
    } finally {
      await closeDatabase()
    }
  }),
)
