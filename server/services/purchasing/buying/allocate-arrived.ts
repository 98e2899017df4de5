import { sql } from 'drizzle-orm'
import { groupBy } from '~~/core/group-by'
import { ratio, ZERO, type Ratio } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import type { Actor } from '~~/server/utils/route'
import { lockDocument } from '../../../documents'
import { asNumeric } from '../../catalogue/measured-items'
import { ALLOCATED } from '../../dispatch/serving'
import { allocatePicks } from '../../dispatch/dispatch'

interface Arrived {
  readonly orderId: number
  readonly lineId: number
  readonly balanceId: number
  readonly quantity: string
  readonly open: string
}

/**
 * Allocates what a goods receipt brought to the customers' orders that it was bought for, up to what these want; the
 * rest is free. Orders that are closed meanwhile get nothing. `cameAs`: what came on hold is allocated once it has been
 * accepted.
 */
export async function allocateArrived(
  tx: Tx,
  actor: Actor,
  postingId: number,
  cameAs: 'available' | 'on hold' = 'available',
): Promise<void> {
  const orders = await rows<{ id: number }>(
    tx,
    sql`
      select distinct l.order_id as id
      from moves m
      join purchase_lines p on p.id = m.document_line_id
      join sales_lines l on l.id = p.sales_line_id
      where m.posting_id = ${postingId}
      order by 1`,
  )
  // What they want is looked at once nobody else can change it.
  for (const { id } of orders) {
    await lockDocument(tx, 'sales order', id)
  }
  const arrived = await rows<Arrived>(
    tx,
    sql`
      select
        l.order_id as "orderId", l.id as "lineId", b.id as "balanceId",
        least(sum(m.quantity), b.on_hand - b.allocated)::text as quantity,
        (l.quantity - l.shipped - (${ALLOCATED}))::text as open
      from moves m
      join purchase_lines p on p.id = m.document_line_id
      join sales_lines l on l.id = p.sales_line_id
      join sales_orders o on o.id = l.order_id and o.status = 'open'
      join balances b on b.item_id = m.item_id
        and b.place_id = m.to_place_id
        and b.lot_id is not distinct from m.lot_id
        and b.piece_id is not distinct from m.piece_id
        and b.status = 'available'
      where m.posting_id = ${postingId} and m.to_status = ${cameAs} and b.on_hand > b.allocated
      group by l.id, b.id
      order by l.id, b.id`,
  )
  for (const [orderId, lines] of groupBy(arrived, (row) => row.orderId)) {
    const picks = [...groupBy(lines, (row) => row.lineId).values()].flatMap(picksOf)
    if (picks.length > 0) {
      const { version } = await lockDocument(tx, 'sales order', orderId)
      await allocatePicks(tx, actor, orderId, { version, picks })
    }
  }
}

/** As much of what came as the line wants. */
function picksOf(own: readonly Arrived[]): { lineId: number; balanceId: number; quantity: string }[] {
  let left: Ratio = ratio(own[0]!.open)
  return own.flatMap(({ lineId, balanceId, quantity }) => {
    const came = ratio(quantity)
    const taken = came.compare(left) < 0 ? came : left
    left = left.sub(taken)
    return taken.compare(ZERO) > 0 ? [{ lineId, balanceId, quantity: asNumeric(taken) }] : []
  })
}
