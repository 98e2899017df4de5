import pg from 'pg'

/** The address of the database for the owner of its tables; without one of its own it is that of the application. */
export const ownerUrl = (): string => process.env.DATABASE_OWNER_URL || process.env.DATABASE_URL || ''

/** Does something as the owner of the tables, on a connection of its own that ends with it. */
export async function asOwner<T>(act: (client: pg.Client) => Promise<T>): Promise<T> {
  const client = new pg.Client({ connectionString: ownerUrl(), connectionTimeoutMillis: 8000 })
  // What goes wrong with it is told by the statement that needs it.
  client.on('error', () => undefined)
  await client.connect()
  try {
    return await act(client)
  } finally {
    await client.end()
  }
}

/** What was recorded is not the application's to change or to remove. */
const ONLY_GROW = ['moves', 'postings', 'adjustments', 'entries', 'changes'] as const

/**
 * Gives the application's role what it needs in the tables of their owner, and no more: it reads and writes rows, but
 * neither changes nor removes what was recorded, and makes no tables. Nothing, where both are one.
 */
export async function grantToApplication(client: pg.ClientBase, role: string): Promise<void> {
  const { rows } = await client.query<{ isSame: boolean; name: string }>(
    'select current_user = $1 as "isSame", quote_ident($1) as name',
    [role],
  )
  const { isSame, name } = rows[0]!
  // The owner needs every right of its own: keys to other tables are checked in its name. Triggers hold it back.
  await client.query('grant all on all tables in schema public to current_user')
  if (isSame) {
    return
  }
  await client.query(`
    grant usage on schema public, drizzle, jobs to ${name};
    grant select, insert, update, delete on all tables in schema public to ${name};
    grant select, insert, update, delete on all tables in schema jobs to ${name};
    grant select on all tables in schema drizzle to ${name};
    grant usage, select on all sequences in schema public to ${name};
    grant execute on all functions in schema public to ${name};
    grant execute on all functions in schema jobs to ${name};
    revoke update, delete, truncate on ${ONLY_GROW.join(', ')} from ${name};`)
}
