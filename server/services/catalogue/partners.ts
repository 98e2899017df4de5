import { and, asc, desc, eq, sql } from 'drizzle-orm'
import { db } from '~~/server/database/client'
import { anywhere, beginningWith } from '~~/server/database/sql'
import { customers, suppliers } from '~~/server/database/schema'
import type { PartnerQuery } from '~~/shared/catalogue/requests'

/** As many as are offered; more letters find the others. */
const MOST = 30

/** Customers or suppliers in use whose name or code holds every typed word; those that begin with the text come first. */
export async function findPartners({
  kind,
  search,
}: PartnerQuery): Promise<{ id: number; code: string; name: string }[]> {
  const table = kind === 'customer' ? customers : suppliers
  const text = sql`${table.code} || ' ' || ${table.name}`
  const begins = sql`${table.name} ilike ${beginningWith(search)} or ${table.code} ilike ${beginningWith(search)}`
  return db
    .select({ id: table.id, code: table.code, name: table.name })
    .from(table)
    .where(
      and(
        eq(table.retired, false),
        ...search
          .split(/\s+/)
          .filter(Boolean)
          .map((word) => sql`${text} ilike ${anywhere(word)}`),
      ),
    )
    .orderBy(desc(sql`(${begins})`), asc(table.name))
    .limit(MOST)
}
