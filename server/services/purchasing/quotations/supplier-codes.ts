import { sql } from 'drizzle-orm'
import { db, rows } from '~~/server/database/client'

/** How a supplier calls items, by item. */
export async function supplierCodesOf(supplierId: number): Promise<ReadonlyMap<number, string>> {
  const found = await rows<{ itemId: number; code: string }>(
    db,
    sql`
      select item_id as "itemId", supplier_code as code
      from supplier_terms
      where supplier_id = ${supplierId} and supplier_code <> ''`,
  )
  return new Map(found.map(({ itemId, code }) => [itemId, code]))
}
