import { sql } from 'drizzle-orm'
import type { Tx } from '~~/server/database/client'
import { counters } from '~~/server/database/schema'

/** The next number of a kind of document, for example PO-0013. */
export async function nextNumber(tx: Tx, name: string): Promise<string> {
  const [row] = await tx
    .insert(counters)
    .values({ name, next: 2 })
    .onConflictDoUpdate({ target: counters.name, set: { next: sql`${counters.next} + 1` } })
    .returning()
  return `${name}-${String(row!.next - 1).padStart(4, '0')}`
}
