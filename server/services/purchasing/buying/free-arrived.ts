import { sql } from 'drizzle-orm'
import { rows, type Tx } from '~~/server/database/client'

/**
 * What a goods receipt was allocated to by itself is free again, so that the goods can go back: as much of it as is
 * still allocated where it came to.
 */
export async function freeArrived(tx: Tx, postingId: number): Promise<void> {
  const allocated = await rows<{ id: number; balanceId: number; quantity: string; isAll: boolean }>(
    tx,
    sql`
      select
        a.id, b.id as "balanceId", least(a.quantity, sum(m.quantity))::text as quantity,
        a.quantity <= sum(m.quantity) as "isAll"
      from moves m
      join purchase_lines p on p.id = m.document_line_id
      join allocations a on a.sales_line_id = p.sales_line_id
        and a.item_id = m.item_id
        and a.place_id = m.to_place_id
        and a.lot_id is not distinct from m.lot_id
        and a.piece_id is not distinct from m.piece_id
      join balances b on b.item_id = a.item_id
        and b.place_id = a.place_id
        and b.lot_id is not distinct from a.lot_id
        and b.piece_id is not distinct from a.piece_id
        and b.status = 'available'
      where m.posting_id = ${postingId}
      group by a.id, b.id
      order by b.id`,
  )
  for (const { id, balanceId, quantity, isAll } of allocated) {
    await rows(tx, sql`update balances set allocated = allocated - ${quantity}::numeric where id = ${balanceId}`)
    await rows(
      tx,
      isAll
        ? sql`delete from allocations where id = ${id}`
        : sql`update allocations set quantity = quantity - ${quantity}::numeric where id = ${id}`,
    )
  }
}
