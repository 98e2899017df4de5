import fs from 'node:fs'
import path from 'node:path'
import { fileURLToPath } from 'node:url'
import { makeDataFolder, rememberOwn } from './lib/data-folder.mjs'
import { orStop, say, Stop } from './lib/say.mjs'
import { withDatabase } from './lib/with-database.mjs'

const root = fileURLToPath(new URL('..', import.meta.url))

await orStop(main())

/**
 * `npm run restore -- FILE`: brings a backup back as the own company of this folder, where none is yet, or into the
 * empty database of DATABASE_URL.
 */
async function main() {
  const word = process.argv.slice(2).find((entry) => !entry.startsWith('--'))
  const file = word && path.resolve(word)
  if (!file || !fs.existsSync(file)) {
    throw new Stop(word ? `There is no file ${file}.` : 'Name the file: npm run restore -- /mnt/backups/tsumiki-….tar')
  }
  const isOwn = !process.env.DATABASE_URL
  const bring = async ({ restore, closeDatabase }) => {
    try {
      tell(await restore(file))
      if (isOwn) {
        rememberOwn(makeDataFolder(root))
        say('npm start serves it from now on.')
      }
    } catch (error) {
      throw new Stop(error.detail ?? `It was not restored: ${error.message}`)
    } finally {
      await closeDatabase()
    }
  }
  await withDatabase(root, 'server/services/backup/index.ts', bring, 'own')
}

function tell({ manifest, differences }) {
  const { items, moves, sales_orders: orders } = manifest.contents
  say(
    `${manifest.company} as of ${manifest.madeAt}: ${items} items, ${moves} moves, ${orders} sales orders. Everybody signs in again.`,
  )
  if (differences.length === 0) {
    say('Checksum, rows, quantities, values and journal agree.')
    return
  }
  for (const difference of differences) {
    process.stdout.write(`  ${difference}\n`)
  }
  say(`${differences.length} things differ; they stand above.`)
  process.exitCode = 1
}
