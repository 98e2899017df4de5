import { convert, type UnitGraph } from '../units/graph'
import { ONE, ratio, type Ratio } from '../units/exact'
import { tierAt, type PriceTier } from './tiers'

/** A selling price of one `unit`: for everyone, on a price list, or one customer's own. */
export interface SellingRule extends PriceTier {
  readonly unit: string
  readonly priceListId: number | null
  readonly customerId: number | null
}

export interface PriceQuery {
  readonly unit: string
  readonly quantity: Ratio
  readonly day: string
  readonly customerId: number | null
  readonly priceListId: number | null
}

export interface SellingPrice {
  /** For one of the unit asked, exact. */
  readonly price: Ratio
  readonly from: 'customer' | 'price list' | 'quantity' | 'item'
}

/**
 * The price of one unit of an item for a customer: the customer's own, else that of their price list, else one for
 * everyone, else the item's plain price for its selling unit.
 *
 * A rule in the unit asked goes before one in another unit, which is divided exactly (a price per carton of 24 gives a
 * 24th for a piece, from a whole carton on).
 * Units: `quantity` and the answer in the unit asked. Null where nothing says a price, or no path leads to its unit.
 */
export function sellingPrice(
  graph: UnitGraph,
  plain: { readonly price: string | null; readonly unit: string },
  rules: readonly SellingRule[],
  asked: PriceQuery,
): SellingPrice | null {
  const levels: readonly (readonly [SellingPrice['from'], (rule: SellingRule) => boolean])[] = [
    ['customer', (rule) => rule.customerId !== null && rule.customerId === asked.customerId],
    ['price list', (rule) => rule.priceListId !== null && rule.priceListId === asked.priceListId],
    ['quantity', (rule) => rule.customerId === null && rule.priceListId === null],
  ]
  for (const [from, belongs] of levels) {
    const own = rules.filter(belongs)
    for (const unit of [asked.unit, ...new Set(own.map((rule) => rule.unit).filter((code) => code !== asked.unit))]) {
      const each = convert(graph, ONE, asked.unit, unit)
      if (
        each.ok &&
        unit !== asked.unit &&
        graph.units.get(unit)?.dimension === 'pack' &&
        asked.quantity.mul(each.value).compare(ONE) < 0
      ) {
        continue
      }
      const tier = each.ok
        ? tierAt(
            own.filter((rule) => rule.unit === unit),
            asked.quantity.mul(each.value),
            asked.day,
          )
        : null
      if (tier && each.ok) {
        return { price: ratio(tier.price).mul(each.value), from }
      }
    }
  }
  const each = convert(graph, ONE, asked.unit, plain.unit)
  return plain.price !== null && each.ok ? { price: ratio(plain.price).mul(each.value), from: 'item' } : null
}
