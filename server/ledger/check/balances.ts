import { sql } from 'drizzle-orm'
import { rows, type Reader } from '~~/server/database/client'
import type { LedgerDifference } from './difference'

/** What lies where by the moves alone: every end of every move that is in stock. */
export const MOVED = sql`
  select item_id, place_id, lot_id, piece_id, status, sum(quantity) as quantity
  from (
    select item_id, to_place_id as place_id, lot_id, piece_id, to_status as status, quantity
    from moves
    where to_status is not null
    union all
    select item_id, from_place_id, lot_id, piece_id, from_status, -quantity
    from moves
    where from_status is not null
  ) ends
  group by 1, 2, 3, 4, 5`

/** What orders and builds have set aside, where it lies. */
export const SET_ASIDE = sql`
  select item_id, place_id, lot_id, piece_id, sum(quantity) as quantity
  from allocations
  group by 1, 2, 3, 4`

interface Found {
  readonly what: string
  readonly kept: string
  readonly worked: string
  readonly unit: string
}

/** Balances beside the moves, and what is allocated of each beside the allocations. */
export async function checkBalances(reader: Reader): Promise<LedgerDifference[]> {
  const onHand = await rows<Found>(
    reader,
    sql`
      select
        concat_ws(' · ', i.code, p.name, l.number, c.label, coalesce(b.status, m.status)) as what,
        trim_scale(coalesce(b.on_hand, 0))::text as kept,
        trim_scale(coalesce(m.quantity, 0))::text as worked, u.symbol as unit
      from balances b
      full join (${MOVED}) m on m.item_id = b.item_id
        and m.place_id = b.place_id
        and coalesce(m.lot_id, 0) = coalesce(b.lot_id, 0)
        and coalesce(m.piece_id, 0) = coalesce(b.piece_id, 0)
        and m.status = b.status
      join items i on i.id = coalesce(b.item_id, m.item_id)
      join units u on u.code = i.stock_unit
      join places p on p.id = coalesce(b.place_id, m.place_id)
      left join lots l on l.id = coalesce(b.lot_id, m.lot_id)
      left join pieces c on c.id = coalesce(b.piece_id, m.piece_id)
      where coalesce(b.on_hand, 0) <> coalesce(m.quantity, 0)
      order by 1`,
  )
  const allocated = await rows<Found>(
    reader,
    sql`
      select
        concat_ws(' · ', i.code, p.name, l.number, c.label) as what,
        trim_scale(coalesce(b.allocated, 0))::text as kept,
        trim_scale(coalesce(a.quantity, 0))::text as worked, u.symbol as unit
      from (select * from balances where status = 'available' or allocated > 0) b
      full join (${SET_ASIDE}) a on a.item_id = b.item_id
        and a.place_id = b.place_id
        and coalesce(a.lot_id, 0) = coalesce(b.lot_id, 0)
        and coalesce(a.piece_id, 0) = coalesce(b.piece_id, 0)
        and b.status = 'available'
      join items i on i.id = coalesce(b.item_id, a.item_id)
      join units u on u.code = i.stock_unit
      join places p on p.id = coalesce(b.place_id, a.place_id)
      left join lots l on l.id = coalesce(b.lot_id, a.lot_id)
      left join pieces c on c.id = coalesce(b.piece_id, a.piece_id)
      where coalesce(b.allocated, 0) <> coalesce(a.quantity, 0)
      order by 1`,
  )
  return [
    ...onHand.map((row): LedgerDifference => ({ kind: 'on hand', ...row })),
    ...allocated.map((row): LedgerDifference => ({ kind: 'allocated', ...row })),
  ]
}
