import { drizzle } from 'drizzle-orm/node-postgres'
import { readMigrationFiles, type MigrationMeta } from 'drizzle-orm/migrator'
import type { ClientBase } from 'pg'
import { shippedFiles } from '~~/server/utils/shipped-files'

/** What Drizzle's own migrator does, which it does not show in its types. */
interface Migrating {
  readonly session: unknown
  readonly dialect: { migrate(migrations: readonly MigrationMeta[], session: unknown, config: object): Promise<void> }
}

/** The changes of the tables that a database has not seen yet. */
export async function missingMigrations(client: ClientBase): Promise<readonly MigrationMeta[]> {
  const all = readMigrationFiles({ migrationsFolder: shippedFiles('migrations') })
  const { rows: there } = await client.query<{ name: string | null }>(
    `select to_regclass('drizzle.__drizzle_migrations')::text as name`,
  )
  if (there[0]!.name === null) {
    return all
  }
  const { rows } = await client.query<{ last: string | null }>(
    'select max(created_at)::text as last from drizzle.__drizzle_migrations',
  )
  return all.filter(({ folderMillis }) => folderMillis > Number(rows[0]!.last ?? 0))
}

/**
 * Brings the tables up to date, one change after the other, each in a transaction of its own: what is interrupted goes
 * on where it ended, and nobody waits for all of them.
 */
export async function bringUpToDate(client: ClientBase, missing: readonly MigrationMeta[]): Promise<void> {
  const { dialect, session } = drizzle(client as never) as unknown as Migrating
  for (const migration of missing) {
    // An early one takes rights from whoever runs it, which later ones need.
    await client.query('grant all on all tables in schema public to current_user')
    await dialect.migrate([migration], session, {})
  }
}
