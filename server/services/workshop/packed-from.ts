import { sql } from 'drizzle-orm'
import { ratio, toSteps, ZERO, type Ratio } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import { isLive } from '~~/server/database/sql'
import type { TraitValues } from '~~/shared/stock/requests'
import type { MeasuredItem } from '../catalogue/measured-items'
import { lotToEnter } from '../stock/lots'

/** Goods whose lot nobody knows any more: they have no expiry date, and stay on hold until somebody has looked. */
const UNKNOWN_LOT = 'unknown lot'

/**
 * What a kit was packed from. `piece`: that it was cut from or went in whole; `isUnknown`: nothing says of which lot it
 * is.
 */
export interface PackedPart {
  readonly lotId: number | null
  readonly piece: { readonly id: number; readonly traits: TraitValues; readonly isGone: boolean } | null
  readonly quantity: Ratio
  readonly isUnknown: boolean
}

interface Row {
  readonly lotId: number | null
  readonly pieceId: number | null
  readonly traits: TraitValues | null
  readonly isGone: boolean
  readonly quantity: string
}

/**
 * The lots and pieces that a part goes back to with so much of it: those that the kits were packed from, the last
 * packing first, less what unpacking brought back of them already. What no packing accounts for is of an unknown lot.
 */
export async function packedFrom(
  tx: Tx,
  kit: { readonly item: MeasuredItem; readonly lot: string | null },
  part: MeasuredItem,
  quantity: Ratio,
): Promise<PackedPart[]> {
  if (part.tracking === 'none') {
    return [{ lotId: null, piece: null, quantity, isUnknown: false }]
  }
  const found: PackedPart[] = []
  let left = quantity
  for (const row of await packings(tx, kit, part)) {
    const there = toSteps(ratio(row.quantity), part.measure.finestStep, 'recorded').quantity
    const taken = there.compare(left) < 0 ? there : left
    if (taken.compare(ZERO) > 0) {
      const piece = row.pieceId === null ? null : { id: row.pieceId, traits: row.traits ?? {}, isGone: row.isGone }
      found.push({ lotId: row.lotId, piece, quantity: taken, isUnknown: false })
      left = left.sub(taken)
    }
  }
  if (left.compare(ZERO) > 0) {
    const lotId = await lotToEnter(tx, part, UNKNOWN_LOT, { expiresOn: null }, 'binId')
    found.push({ lotId, piece: null, quantity: left, isUnknown: true })
  }
  return found
}

/**
 * What of a part the packings of a kit took by lot and piece, the last packing first, less what came back from
 * unpacking.
 */
const packings = (
  tx: Tx,
  { item: kit, lot }: { readonly item: MeasuredItem; readonly lot: string | null },
  part: MeasuredItem,
): Promise<Row[]> =>
  rows<Row>(
    tx,
    sql`
      with acts as (
        select o.id, case when o.kind = 'unpacking' then 1 else -1 end as sign
        from postings o
        where o.kind in ('kit packing', 'build', 'unpacking')
          and ${isLive('o')}
          and exists (
            select 1
            from moves k
            join places w on w.id = case when o.kind = 'unpacking' then k.to_place_id else k.from_place_id end
              and w.kind = 'workshop'
            where k.posting_id = o.id
              and k.item_id = ${kit.id}
              and (${lot}::int is null or k.lot_id = ${lot}::int)
          )
      )
      select
        m.lot_id as "lotId", origin.piece_id as "pieceId", max(c.traits::text)::jsonb as traits,
        coalesce(
          (select sum(b.on_hand) from balances b where b.piece_id = origin.piece_id), 0
        ) = 0 as "isGone",
        sum(-a.sign * m.quantity)::text as quantity
      from acts a
      join moves m on m.posting_id = a.id and m.item_id = ${part.id}
      join places w on w.id = case when a.sign = 1 then m.from_place_id else m.to_place_id end
        and w.kind = 'workshop'
      left join pieces own on own.id = m.piece_id
      cross join lateral (
        -- What came back of a piece that was cut lies under a label of its own.
        select case when a.sign = 1 then coalesce(own.parent_id, own.id) else own.id end as piece_id
      ) origin
      left join pieces c on c.id = origin.piece_id
      group by m.lot_id, origin.piece_id
      having sum(-a.sign * m.quantity) > 0
      order by max(a.id) filter (where a.sign = -1) desc, m.lot_id desc, origin.piece_id desc
      limit 200`,
  )
