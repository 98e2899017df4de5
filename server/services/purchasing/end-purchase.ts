import { eq, sql } from 'drizzle-orm'
import { rows, type Tx } from '~~/server/database/client'
import { purchaseLines } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { lockAsSeen, saveDocument, type DocumentOf } from '../../documents'

/** Gives up the rest of a line, or takes that back. */
export async function closeShort(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: { version: number; lineId: number; open: boolean },
): Promise<{ id: number }> {
  const order = await lockAsSeen(tx, 'purchase order', id, edit.version)
  const changed = await tx
    .update(purchaseLines)
    .set({ closedShort: !edit.open })
    .where(sql`${purchaseLines.id} = ${edit.lineId} and ${purchaseLines.orderId} = ${id}`)
    .returning()
  if (!changed[0]) {
    throw new Refusal('not-found', 'There is no such line on this order.')
  }
  await saveOrderStatus(tx, actor, order, {
    before: { closedShort: edit.open },
    after: { closedShort: !edit.open, line: changed[0].line },
  })
  return { id }
}

type PurchaseOrder = DocumentOf<'purchase order'>

/** Sets the order's status by its lines, and notes what was done to them. */
export async function saveOrderStatus(
  tx: Tx,
  actor: Actor,
  order: PurchaseOrder,
  noted: { readonly before?: object; readonly after: object },
): Promise<void> {
  await saveDocument(tx, actor, 'purchase order', order, {
    set: { status: await statusByLines(tx, order.id) },
    ...noted,
  })
}

/** Whether something of an order is still to come. */
export async function statusByLines(tx: Tx, orderId: number): Promise<'open' | 'done'> {
  const [lines] = await rows<{ isOpen: boolean }>(
    tx,
    sql`
      select exists (
        select 1
        from purchase_lines l
        where l.order_id = ${orderId} and l.received < l.quantity and not l.closed_short
      ) as "isOpen"`,
  )
  return lines!.isOpen ? 'open' : 'done'
}

/**
 * Gives up what has not come of an order: all of it is cancelled where nothing has come, else the rest is closed short.
 */
export async function cancelPurchase(
  tx: Tx,
  actor: Actor,
  id: number,
  { version }: { readonly version: number },
): Promise<{ id: number; status: string }> {
  const order = await lockAsSeen(tx, 'purchase order', id, version, ['open'])
  const lines = await tx.select().from(purchaseLines).where(eq(purchaseLines.orderId, id))
  const hasCome = lines.some((line) => Number(line.received) > 0)
  await tx
    .update(purchaseLines)
    .set({ closedShort: true })
    .where(sql`${purchaseLines.orderId} = ${id} and ${purchaseLines.received} < ${purchaseLines.quantity}`)
  const status = hasCome ? 'done' : 'cancelled'
  await saveDocument(tx, actor, 'purchase order', order, { set: { status } })
  return { id, status: hasCome ? 'closed short' : 'cancelled' }
}

/** Wants again what an order wanted before it was cancelled or closed short. */
export async function reopenPurchase(
  tx: Tx,
  actor: Actor,
  id: number,
  { version }: { readonly version: number },
): Promise<{ id: number; status: string }> {
  const order = await lockAsSeen(tx, 'purchase order', id, version, ['cancelled', 'done'])
  await tx
    .update(purchaseLines)
    .set({ closedShort: false })
    .where(sql`${purchaseLines.orderId} = ${id} and ${purchaseLines.replacesLineId} is null`)
  const status = await statusByLines(tx, id)
  if (status === 'done') {
    throw new Refusal('not-now', `All of ${order.number} has come; there is nothing to open again.`)
  }
  await saveDocument(tx, actor, 'purchase order', order, { set: { status } })
  return { id, status }
}
