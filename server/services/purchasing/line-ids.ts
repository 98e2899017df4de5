import { eq } from 'drizzle-orm'
import type { Reader } from '~~/server/database/client'
import { purchaseLines } from '~~/server/database/schema'

/** The ids of the lines of an order, in their order. */
export const loadLineIds = async (reader: Reader, orderId: number): Promise<number[]> =>
  (
    await reader
      .select({ id: purchaseLines.id })
      .from(purchaseLines)
      .where(eq(purchaseLines.orderId, orderId))
      .orderBy(purchaseLines.line)
  ).map(({ id }) => id)
