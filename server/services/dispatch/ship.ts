import { sql } from 'drizzle-orm'
import { ratio, toText, ZERO } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import { allocations } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { loadMeasuredItems } from '../catalogue/measured-items'
import { externalPlace } from '../../ledger/external-places'
import { packForShipment } from './pack-at-shipment'
import { post, type DraftMove } from '../../ledger/post'
import { settle } from '../demand/order-end'
import { ofOrder } from './dispatch'
import { saveDocument, lockAsSeen } from '../../documents'

/**
 * Ships what is allocated; the rest of the order stays open. Services count as rendered once nothing held is left to
 * ship.
 */
export async function ship(
  tx: Tx,
  actor: Actor,
  id: number,
  version: number,
): Promise<{ postingId: number | null; done: boolean }> {
  const order = await lockAsSeen(tx, 'sales order', id, version, ['open'])
  await packForShipment(tx, actor, id)
  const set = await ofOrder(tx, id)
  const [held] = await rows<{ open: number }>(
    tx,
    sql`
      select count(*)::int as open
      from sales_lines l
      join items i on i.id = l.item_id
      where l.order_id = ${id} and i.kind = 'stocked' and l.shipped < l.quantity`,
  )
  if (set.length === 0 && held!.open > 0) {
    throw new Refusal('not-now', `Nothing is allocated to ${order.number}. Allocate first, then ship what was picked.`)
  }
  const items = await loadMeasuredItems(tx, [...new Set(set.map((a) => a.itemId))])
  const customer = await externalPlace(tx, 'customer')
  const moves = set.map((a): DraftMove => {
    const quantity = ratio(a.quantity)
    return {
      itemId: a.itemId,
      lotId: a.lotId,
      pieceId: a.pieceId,
      quantity,
      from: { placeId: a.placeId, status: 'available' },
      to: customer,
      entered: toText(quantity),
      unit: items.get(a.itemId)!.stockUnit,
      residue: ZERO,
      released: quantity,
      valuation: { kind: 'method' },
      lineId: a.salesLineId,
    }
  })
  const posted =
    moves.length === 0
      ? null
      : await post(tx, actor, {
          kind: 'shipment',
          label: `Shipment of ${order.number}`,
          document: { kind: 'sales order', id },
          effectiveOn: actor.today,
          moves,
        })
  for (const a of set) {
    await rows(tx, sql`update sales_lines set shipped = shipped + ${a.quantity}::numeric where id = ${a.salesLineId}`)
  }
  if (set.length > 0) {
    await tx.delete(allocations).where(
      anyOf(
        allocations.id,
        set.map((a) => a.id),
      ),
    )
  }
  const status = await settle(tx, id)
  await saveDocument(tx, actor, 'sales order', order, {
    set: { status },
    after: { shipped: posted?.postingId ?? 'services' },
  })
  return { postingId: posted?.postingId ?? null, done: status === 'shipped' }
}
