import { sql } from 'drizzle-orm'
import { buyingQuantity } from '~~/core/planning/sizing'
import { convert } from '~~/core/units/graph'
import { ratio, toDecimal } from '~~/core/units/exact'
import { rows, type Reader } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import type { MeasuredItem } from '../catalogue/measured-items'

/** Decimals that are told of a quantity in another unit. */
const TOLD = 4

/** A quantity as its supplier is asked for it. */
export interface InOrderUnit {
  readonly quantity: string
  readonly symbol: string
}

interface Order {
  readonly ref: string
  readonly kind: string
  readonly itemId: number
  readonly supplierId: number | null
  readonly quantity: string
  readonly state: string
}

/**
 * Purchases to come in the unit that people order in, by their names; none where that is the stock unit. `times`: how
 * often the multiple is taken, by the same names.
 */
export async function inOrderUnits(
  reader: Reader,
  orders: readonly Order[],
  times: ReadonlyMap<string, number>,
  items: ReadonlyMap<number, MeasuredItem>,
): Promise<ReadonlyMap<string, InOrderUnit>> {
  const bought = orders.filter((order) => order.kind === 'buy' && order.supplierId !== null)
  const terms = await rows<{ itemId: number; supplierId: number; unit: string; symbol: string; multiple: string }>(
    reader,
    sql`
      select t.item_id as "itemId", t.supplier_id as "supplierId", t.unit, u.symbol, t.multiple::text
      from supplier_terms t
      join units u on u.code = t.unit
      where ${anyOf(sql`t.item_id`, [...new Set(bought.map((order) => order.itemId))])}`,
  )
  const byKey = new Map(terms.map((term) => [`${term.itemId} ${term.supplierId}`, term]))
  const found = new Map<string, InOrderUnit>()
  for (const order of bought) {
    const item = items.get(order.itemId)
    const term = byKey.get(`${order.itemId} ${order.supplierId}`)
    const asked =
      item && term && term.unit !== item.stockUnit
        ? convert(item.measure.graph, ratio(order.quantity), item.stockUnit, term.unit)
        : null
    if (asked?.ok) {
      const quantity = buyingQuantity({
        asked: asked.value,
        multiple: ratio(term!.multiple),
        times: order.state === 'proposed' ? (times.get(order.ref) ?? 0) : 0,
      })
      const text = toDecimal(quantity, TOLD).replace(/\.?0+$/, '')
      found.set(order.ref, { quantity: text, symbol: term!.symbol })
    }
  }
  return found
}
