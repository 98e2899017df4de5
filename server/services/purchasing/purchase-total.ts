import { and, eq, isNull } from 'drizzle-orm'
import { lineValue } from '~~/core/costing'
import { toMinor } from '~~/core/money'
import { nearestEven, ratio } from '~~/core/units/exact'
import type { Reader } from '~~/server/database/client'
import { purchaseLines, purchaseOrders } from '~~/server/database/schema'
import type { NamedAmount } from '~~/shared/purchasing/charges'

/** What an order comes to with its charges, in minor units of its currency. */
export async function totalOf(reader: Reader, orderId: number): Promise<bigint> {
  const lines = await reader
    .select({ entered: purchaseLines.entered, price: purchaseLines.price })
    .from(purchaseLines)
    .where(and(eq(purchaseLines.orderId, orderId), isNull(purchaseLines.replacesLineId)))
  const [order] = await reader
    .select({ charges: purchaseOrders.charges })
    .from(purchaseOrders)
    .where(eq(purchaseOrders.id, orderId))
  return lines.reduce(
    (sum, line) => sum + lineValue(ratio(line.entered), ratio(line.price)),
    totalOfCharges(order?.charges ?? []),
  )
}

/** In minor units of the currency of the document that they stand on. */
export const totalOfCharges = (charges: readonly NamedAmount[]): bigint =>
  charges.reduce((sum, charge) => sum + nearestEven(toMinor(ratio(charge.amount))), 0n)
