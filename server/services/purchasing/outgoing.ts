import { sql } from 'drizzle-orm'
import { db, rows, type Tx } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { sendAgainFor } from '../company/mails'
import { letterFor } from './letters'
import { loadPurchase } from './load-purchase'
import { sendPurchase } from './send-purchase'
import type { PurchaseFile } from './files'

/** A letter that could go out with an order now: to whom, and what it says. */
export async function proposedLetter(id: number): Promise<{ to: string; subject: string; text: string }> {
  const order = await loadPurchase(id)
  const [own] = await rows<{ sent: Parameters<typeof letterFor>[0]['sent'] }>(
    db,
    sql`select sent from purchase_orders where id = ${id}`,
  )
  return { to: order.email, ...(await letterFor({ ...order, sent: own!.sent })) }
}

export interface Outgoing {
  readonly id: number
  readonly version: number
  readonly to: string
  readonly subject: string
  readonly text: string
  readonly files: readonly PurchaseFile[]
}

/** Sends several orders, all or none; a refusal names the order that it is about. */
export async function sendPurchases(
  tx: Tx,
  actor: Actor,
  key: string,
  orders: readonly Outgoing[],
): Promise<{ sent: number }> {
  for (const { id, version, to, subject, text, files } of orders) {
    const written = files.map((file) => ({ ...file, content: Buffer.from(file.content) }))
    await sendPurchase(tx, actor, id, { key, version, to, subject, text }, written)
  }
  return { sent: orders.length }
}

/** Sends a letter of an order once more that could not be sent. Errors: `not-found`, `not-now`. */
export async function sendLetterAgain(tx: Tx, orderId: number, letterId: number): Promise<{ id: number }> {
  const [letter] = await rows<{ id: number }>(
    tx,
    sql`select id from mails where id = ${letterId} and entity = 'purchase order' and entity_id = ${orderId}`,
  )
  if (!letter) {
    throw new Refusal('not-found', 'There is no such letter of this order.')
  }
  return sendAgainFor(tx, letterId)
}
