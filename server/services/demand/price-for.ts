import { eq } from 'drizzle-orm'
import { sellingPrice } from '~~/core/pricing'
import { ratio, toDecimal } from '~~/core/units/exact'
import type { Reader } from '~~/server/database/client'
import { customers, itemPrices, items } from '~~/server/database/schema'
import type { MeasuredItem } from '../catalogue/measured-items'

/** What one unit costs a customer by the price rules; 0 where nothing says. At most six decimals. */
export async function priceFor(
  reader: Reader,
  measuredItem: MeasuredItem,
  { customerId, unit, quantity, day }: { customerId: number; unit: string; quantity: string; day: string },
): Promise<string> {
  const [item] = await reader.select({ price: items.price }).from(items).where(eq(items.id, measuredItem.id))
  const [customer] = await reader
    .select({ priceListId: customers.priceListId })
    .from(customers)
    .where(eq(customers.id, customerId))
  const rules = await reader.select().from(itemPrices).where(eq(itemPrices.itemId, measuredItem.id))
  const found = sellingPrice(
    measuredItem.measure.graph,
    { price: item?.price ?? null, unit: measuredItem.sellingUnit },
    rules,
    {
      unit,
      quantity: ratio(quantity),
      day,
      customerId,
      priceListId: customer?.priceListId ?? null,
    },
  )
  return found ? toDecimal(found.price, 6).replace(/(\.\d\d\d*?)0+$/, '$1') : '0'
}
