import { sql } from 'drizzle-orm'
import { rows, type Tx } from '~~/server/database/client'
import type { PostedLine } from './reversals'

/** Takes what a posting counted on the lines of its document off again. */
export async function takeBackLines(
  tx: Tx,
  table: 'purchase_lines' | 'sales_lines' | 'transfer_lines',
  column: 'received' | 'shipped' | 'lost',
  lines: readonly PostedLine[],
): Promise<void> {
  for (const line of lines) {
    await rows(
      tx,
      sql`
        update ${sql.identifier(table)}
        set ${sql.identifier(column)} = ${sql.identifier(column)} - ${line.quantity}::numeric
        where id = ${line.documentLineId}`,
    )
  }
}

/** Opens the document of a posting again. */
export async function openAgain(
  tx: Tx,
  table: 'purchase_orders' | 'sales_orders' | 'transfers',
  id: number,
): Promise<void> {
  await rows(tx, sql`update ${sql.identifier(table)} set status = 'open', version = version + 1 where id = ${id}`)
}
