import { buyingPrice, type PriceTier } from '../pricing'
import { ratio, toSteps, ZERO, type Ratio } from '../units/exact'

/** What a supplier asks for an item. Quantities and prices are for the unit in which it is sold. */
export interface SellingTerms {
  readonly price: string
  readonly tiers: readonly PriceTier[]
  /** The least that is sold, and in which steps; nought where there is no such rule. */
  readonly minimum: Ratio
  readonly multiple: Ratio
}

/** A larger quantity at which each costs less. */
export interface NextTier {
  readonly quantity: Ratio
  readonly price: Ratio
  readonly amount: Ratio
}

/** What has to be bought, and what it costs. */
export interface Offer {
  /** What has to be bought to have what is wanted. */
  readonly quantity: Ratio
  readonly price: Ratio
  /** Quantity times price, in the supplier's currency, not rounded. */
  readonly amount: Ratio
  /** Null where no larger quantity costs less for each, or only one beyond `within` times as much. */
  readonly next: NextTier | null
}

/** Nobody wants to hear of a price that begins at many times what is wanted. */
const WITHIN = ratio(2)

/** What a supplier asks when `wanted` of an item is bought on a day (ISO text). */
export function offerFor(terms: SellingTerms, wanted: Ratio, day: string): Offer {
  const quantity = inSteps(terms, wanted)
  const price = priceAt(terms, quantity, day)
  const next = terms.tiers
    .map((tier) => inSteps(terms, ratio(tier.fromQuantity)))
    .filter((more) => more.compare(quantity) > 0 && more.compare(quantity.mul(WITHIN)) <= 0)
    .map((more) => ({ quantity: more, price: priceAt(terms, more, day) }))
    .filter((tier) => tier.price.compare(price) < 0)
    .sort((first, second) => first.quantity.compare(second.quantity))[0]
  return {
    quantity,
    price,
    amount: quantity.mul(price),
    next: next ? { ...next, amount: next.quantity.mul(next.price) } : null,
  }
}

const priceAt = ({ price, tiers }: SellingTerms, quantity: Ratio, day: string): Ratio =>
  ratio(buyingPrice(price, tiers, quantity, day))

/** At least the minimum, up to the next whole step. */
function inSteps({ minimum, multiple }: SellingTerms, wanted: Ratio): Ratio {
  const least = wanted.compare(minimum) < 0 ? minimum : wanted
  return multiple.compare(ZERO) > 0 ? toSteps(least, multiple, 'required').quantity : least
}
