import { MINOR_DIGITS } from '../money'
import { nearestEven, ratio, ZERO, type Ratio } from '../units/exact'

/** Money in whole minor units (cents) of the company's currency. */
export type Minor = bigint

/** What an item and site hold: quantity in stock units and its value. The average cost is value ÷ quantity. */
export interface Holding {
  readonly quantity: Ratio
  readonly value: Minor
}

/**
 * Takes `quantity` out at the moving average.
 *
 * The value is rounded to the minor unit (ties to even); the last unit takes all that is left, so none is created or
 * lost. Unchecked: `quantity` ≤ `holding.quantity`; the ledger refuses the rest before cost is asked.
 * Source: IAS 2.27, weighted average cost.
 */
export function issue(holding: Holding, quantity: Ratio): { readonly value: Minor; readonly rest: Holding } {
  const rest = holding.quantity.sub(quantity)
  if (rest.equals(ZERO)) {
    return { value: holding.value, rest: { quantity: ZERO, value: 0n } }
  }
  const value = nearestEven(ratio(holding.value).mul(quantity).div(holding.quantity))
  return { value, rest: { quantity: rest, value: holding.value - value } }
}

/**
 * What a quantity costs at a price, in minor units, ties to even.
 *
 * Units: `price` in major units of the currency for one `priceUnit`; `quantity` in the same unit.
 */
export function lineValue(quantity: Ratio, price: Ratio, minorDigits = MINOR_DIGITS): Minor {
  return nearestEven(quantity.mul(price).mul(ratio(10n ** BigInt(minorDigits))))
}
