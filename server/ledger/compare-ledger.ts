import { sql } from 'drizzle-orm'
import { db, rows } from '~~/server/database/client'

export interface LedgerDifference {
  itemId: number
  place: string
  lot: string | null
  status: string
  onHand: string
  moved: string
}

/** Works the balances out again from the moves alone, and names every one that differs; none should. */
export async function compareLedger(): Promise<LedgerDifference[]> {
  return rows<LedgerDifference>(
    db,
    sql`
      with ends as (
        select item_id, to_place_id as place_id, lot_id, piece_id, to_status as status, quantity
        from moves
        where to_status is not null
        union all
        select item_id, from_place_id, lot_id, piece_id, from_status, -quantity
        from moves
        where from_status is not null
      ),
      moved as (
        select item_id, place_id, lot_id, piece_id, status, sum(quantity) as quantity
        from ends
        group by 1, 2, 3, 4, 5
      )
      select
        coalesce(b.item_id, m.item_id) as "itemId", p.name as place, l.number as lot,
        coalesce(b.status, m.status) as status, coalesce(b.on_hand, 0) as "onHand",
        coalesce(m.quantity, 0) as moved
      from balances b
      full join moved m on m.item_id = b.item_id
        and m.place_id = b.place_id
        and m.lot_id is not distinct from b.lot_id
        and m.piece_id is not distinct from b.piece_id
        and m.status = b.status
      join places p on p.id = coalesce(b.place_id, m.place_id)
      left join lots l on l.id = coalesce(b.lot_id, m.lot_id)
      where coalesce(b.on_hand, 0) <> coalesce(m.quantity, 0)`,
  )
}
