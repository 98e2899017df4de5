import { eq, sql } from 'drizzle-orm'
import { rows, type Tx } from '~~/server/database/client'
import { salesLines } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { deallocate, ofOrder } from '../dispatch/dispatch'
import { jobsOf } from '../dispatch/pack-at-shipment'
import { lockAsSeen, saveDocument } from '../../documents'

/**
 * Whether an order is done with: every line of goods is shipped. Services count as rendered then. One of services alone
 * is not done by itself: somebody says so by shipping it.
 */
export async function settle(tx: Tx, orderId: number): Promise<'open' | 'shipped'> {
  await rows(
    tx,
    sql`
      update sales_lines l
      set shipped = quantity
      from items i
      where i.id = l.item_id
        and i.kind = 'service'
        and l.order_id = ${orderId}
        and not exists (
          select 1
          from sales_lines m
          join items j on j.id = m.item_id
          where m.order_id = ${orderId} and j.kind = 'stocked' and m.shipped < m.quantity
        )`,
  )
  const [left] = await tx
    .select()
    .from(salesLines)
    .where(sql`${salesLines.orderId} = ${orderId} and ${salesLines.shipped} < ${salesLines.quantity}`)
    .limit(1)
  return left ? 'open' : 'shipped'
}

/** Whether goods of an order have left, so that it may be done with once nothing more of it is wanted. */
export const hasShipped = async (tx: Tx, orderId: number): Promise<boolean> =>
  (await tx.select().from(salesLines).where(eq(salesLines.orderId, orderId))).some((line) => Number(line.shipped) > 0)

/**
 * Ends an order that is not wanted any more: what is allocated or being packed for it is given back, what has been
 * shipped stays shipped. It wants nothing from then on.
 */
export async function cancelOrder(
  tx: Tx,
  actor: Actor,
  id: number,
  { version }: { readonly version: number },
): Promise<{ id: number; status: string }> {
  const order = await lockAsSeen(tx, 'sales order', id, version, ['open'])
  const isSetAside = (await ofOrder(tx, id)).length + (await jobsOf(tx, id)).length > 0
  if (isSetAside) {
    await deallocate(tx, actor, id, version)
  }
  const current = isSetAside ? await lockAsSeen(tx, 'sales order', id, version + 1, ['open']) : order
  const status = (await hasShipped(tx, id)) ? 'closed short' : 'cancelled'
  await saveDocument(tx, actor, 'sales order', current, { set: { status }, after: { status } })
  return { id, status }
}

/** Wants again what an order wanted before it was cancelled or closed short. */
export async function reopenOrder(
  tx: Tx,
  actor: Actor,
  id: number,
  { version }: { readonly version: number },
): Promise<{ id: number; status: string }> {
  const order = await lockAsSeen(tx, 'sales order', id, version)
  if (!['cancelled', 'closed short'].includes(order.status)) {
    throw new Refusal('not-now', `${order.number} was not cancelled: it is ${order.status}.`)
  }
  await saveDocument(tx, actor, 'sales order', order, { set: { status: 'open' }, after: { status: 'open' } })
  return { id, status: 'open' }
}
