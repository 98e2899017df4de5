import { sql, type SQL } from 'drizzle-orm'

/** The posting with this id was not taken back: `${notReversed('s.posting_id')}`. */
export const notReversed = (id: string): SQL =>
  sql`not exists (select 1 from postings r where r.reverses_id = ${sql.raw(id)})`

/** A posting counts: it was not taken back, and is no reversal itself. `posting`: its name in the query. */
export const isLive = (posting: string): SQL =>
  sql`${sql.raw(posting)}.reverses_id is null and ${notReversed(`${posting}.id`)}`
