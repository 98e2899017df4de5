import { eq } from 'drizzle-orm'
import { lineValue } from '~~/core/costing'
import { ratio } from '~~/core/units/exact'
import type { Reader } from '~~/server/database/client'
import { purchaseLines } from '~~/server/database/schema'

/** What an order comes to, in minor units of its currency. */
export async function totalOf(reader: Reader, orderId: number): Promise<bigint> {
  const lines = await reader
    .select({ entered: purchaseLines.entered, price: purchaseLines.price })
    .from(purchaseLines)
    .where(eq(purchaseLines.orderId, orderId))
  return lines.reduce((sum, line) => sum + lineValue(ratio(line.entered), ratio(line.price)), 0n)
}
