import path from 'node:path'
import { loadBundled } from './bundle.mjs'
import { askedCompany, chooseCompany, dataFolder, DATABASES, makeDataFolder } from './data-folder.mjs'
import { ensureDebian, ensurePackages } from './packages.mjs'
import { startPostgres } from './postgres.mjs'
import { readSettings } from './settings.mjs'

/**
 * Does something with the database of this folder's company, beside a running server or without one: `act` gets what a
 * TypeScript file exports. `company` is which, where the words of the command do not say.
 */
export async function withDatabase(root, entry, act, company) {
  const settings = readSettings(root)
  ensureDebian({ postgres: !settings.DATABASE_URL })
  await ensurePackages(root)
  const postgres = settings.DATABASE_URL ? null : await startPostgres({ root })
  process.env.BACKUP_DIR ??= path.join(dataFolder(root), 'backups')
  let made = null
  if (postgres) {
    const asked = askedCompany(process.argv) ?? company
    const database = DATABASES[chooseCompany(makeDataFolder(root), asked, postgres.has)]
    made = postgres.has(database) ? null : database
    const { databaseUrl, ownerUrl } = postgres.urls(database)
    process.env.DATABASE_URL = databaseUrl
    process.env.DATABASE_OWNER_URL = ownerUrl
    process.env.PG_BIN = postgres.bin
  }
  try {
    await act(await loadBundled(root, entry))
  } catch (error) {
    // What was made for it alone goes again: an empty company would be served in place of the demo.
    if (made) {
      postgres.drop(made)
    }
    throw error
  } finally {
    if (postgres && !postgres.joined) {
      await postgres.stop()
    }
  }
}
