import { sql } from 'drizzle-orm'
import type { Pickable } from '~~/core/stock'
import { ratio } from '~~/core/units/exact'
import { rows, type Reader } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'

export interface StockedPickable extends Pickable {
  readonly binName: string
  readonly lotNumber: string | null
  readonly pieceLabel: string | null
  readonly balanceId: number
  readonly siteId: number
}

/**
 * Everything of these items that lies in a bin, with what decides the order of picking. Ids are text, as core has them.
 */
export async function loadPickable(
  reader: Reader,
  itemIds: readonly number[],
): Promise<Map<number, StockedPickable[]>> {
  const byItem = new Map<number, StockedPickable[]>(itemIds.map((id) => [id, []]))
  if (itemIds.length === 0) {
    return byItem
  }
  const found = await rows<{
    id: number
    item: number
    bin: number
    siteId: number
    binName: string
    pickOrder: number
    closed: boolean
    lot: number | null
    number: string | null
    piece: number | null
    label: string | null
    expires: string | null
    received: string | null
    status: StockedPickable['status']
    onHand: string
    allocated: string
  }>(
    reader,
    sql`
      select
        b.id, b.item_id as item, b.place_id as bin, p.site_id as "siteId", p.name as "binName", p.pick_order as "pickOrder",
        p.closed_to_picking as closed, b.lot_id as lot, l.number, b.piece_id as piece, c.label,
        l.expires_on as expires, l.received_on as received, b.status, b.on_hand as "onHand", b.allocated
      from balances b
      join places p on p.id = b.place_id and p.kind = 'bin'
      left join lots l on l.id = b.lot_id
      left join pieces c on c.id = b.piece_id
      where b.on_hand > 0
        and ${anyOf(sql`b.item_id`, itemIds)}
      order by b.item_id, b.place_id, b.lot_id, b.piece_id, b.status`,
  )
  for (const row of found) {
    byItem.get(row.item)!.push({
      balanceId: row.id,
      item: String(row.item),
      bin: String(row.bin),
      siteId: row.siteId,
      binName: row.binName,
      lot: row.lot === null ? null : String(row.lot),
      lotNumber: row.number,
      piece: row.piece === null ? null : String(row.piece),
      pieceLabel: row.label,
      status: row.status,
      onHand: ratio(row.onHand),
      allocated: ratio(row.allocated),
      expiresOn: row.expires,
      receivedOn: row.received,
      pickOrder: row.pickOrder,
      closedToPicking: row.closed,
    })
  }
  return byItem
}
