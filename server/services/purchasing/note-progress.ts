import { eq } from 'drizzle-orm'
import type { Tx } from '~~/server/database/client'
import { items, purchaseLines, purchaseOrders } from '~~/server/database/schema'
import { asSent } from './letters'

/** How far a line of an order was when it came in from elsewhere. */
interface Progress {
  readonly sentOn: string | null
  readonly confirmedOn: string | null
  /** The day that was asked, where the supplier confirmed another. */
  readonly askedFor: string | null
}

/** Notes of an order that was made elsewhere when it was sent, and what the supplier confirmed, line by line. */
export async function noteProgress(tx: Tx, orderId: number, progress: readonly Progress[]): Promise<void> {
  const lines = await tx
    .select({ line: purchaseLines, code: items.code })
    .from(purchaseLines)
    .innerJoin(items, eq(items.id, purchaseLines.itemId))
    .where(eq(purchaseLines.orderId, orderId))
    .orderBy(purchaseLines.line)
  for (const [index, { line }] of lines.entries()) {
    const { confirmedOn, askedFor } = progress[index]!
    const { entered, unit, price } = line
    const asked = confirmedOn !== null && askedFor !== null ? { entered, unit, price, dueOn: askedFor } : null
    await tx.update(purchaseLines).set({ confirmedOn, asked }).where(eq(purchaseLines.id, line.id))
  }
  const sentOn = progress[0]?.sentOn ?? null
  if (sentOn !== null) {
    const sent = asSent(lines.map(({ line, code }) => ({ ...line, code })))
    await tx.update(purchaseOrders).set({ sentOn, sent }).where(eq(purchaseOrders.id, orderId))
  }
}
