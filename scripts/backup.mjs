import path from 'node:path'
import { fileURLToPath } from 'node:url'
import { withDatabase } from './lib/with-database.mjs'
import { orStop, say, Stop } from './lib/say.mjs'

const root = fileURLToPath(new URL('..', import.meta.url))

/** `npm run backup [-- FILE] [--demo]`: writes everything into one file, while people work. */
await orStop(
  withDatabase(root, 'server/services/backup/index.ts', async ({ backUp, closeDatabase }) => {
    const word = process.argv.slice(2).find((entry) => !entry.startsWith('--'))
    const start = performance.now()
    try {
      const { file, bytes } = await backUp(word && path.resolve(word))
      const took = ((performance.now() - start) / 1000).toFixed(1)
      say(`${file}: ${(bytes / 1e6).toFixed(1)} MB in ${took} s`)
    } catch (error) {
      throw new Stop(`No backup was made: ${error.message}`)
    } finally {
      await closeDatabase()
    }
  }),
)
