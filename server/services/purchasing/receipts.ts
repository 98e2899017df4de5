import { sql, type SQL } from 'drizzle-orm'

/** Kinds of postings by which goods come from a supplier: to us, or to a customer directly. */
export const RECEIPTS = sql`('goods receipt', 'direct delivery')`

/** Whether a move `m` of such a posting is of a purchase line: what is delivered directly stands below nought. */
export const isOfLine = (lineId: SQL): SQL => sql`m.document_line_id in ((${lineId})::int, -(${lineId})::int)`

/** The site of goods that a move `m` to a place `p` brought; the first one, where they never came to us. */
export const SITE_OF_RECEIPT = sql`
  coalesce(p.site_id, (select f.id from sites f where not f.retired order by f.id limit 1))`
