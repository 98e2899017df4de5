import { nearestEven, ratio, ZERO, type Ratio } from '../units'

/** Money in whole minor units (cents) of the company's currency. */
export type Minor = bigint

/** What an item and site hold: quantity in stock units and its value. The average cost is value ÷ quantity. */
export interface Holding { readonly quantity: Ratio, readonly value: Minor }

/**
 * Takes `quantity` out at the moving average.
 *
 * The value is rounded to the minor unit (ties to even); the last unit takes all that is left, so none is created or lost.
 * Unchecked: `quantity` ≤ `holding.quantity`; the ledger refuses the rest before cost is asked.
 * Source: IAS 2.27, weighted average cost.
 */
export function issue(holding: Holding, quantity: Ratio): { readonly value: Minor, readonly rest: Holding } {
  const rest = holding.quantity.sub(quantity)
  if (rest.equals(ZERO)) return { value: holding.value, rest: { quantity: ZERO, value: 0n } }
  const value = nearestEven(ratio(holding.value).mul(quantity).div(holding.quantity))
  return { value, rest: { quantity: rest, value: holding.value - value } }
}

/** Adds goods at their value. */
export function receive(holding: Holding, quantity: Ratio, value: Minor): Holding {
  return { quantity: holding.quantity.add(quantity), value: holding.value + value }
}

/**
 * Takes back a receipt that was entered at `original`.
 *
 * Gives the original value back where the rest stays sound; else what the goods are worth now, and the difference as `variance`
 * (original − value).
 */
export function takeBack(holding: Holding, quantity: Ratio, original: Minor): { readonly value: Minor, readonly variance: Minor, readonly rest: Holding } {
  const restQuantity = holding.quantity.sub(quantity)
  const restValue = holding.value - original
  const sound = restQuantity.equals(ZERO) ? restValue === 0n : restValue >= 0n
  if (sound) return { value: original, variance: 0n, rest: { quantity: restQuantity, value: restValue } }
  const { value, rest } = issue(holding, quantity)
  return { value, variance: original - value, rest }
}

/**
 * What a quantity costs at a price, in minor units, ties to even.
 *
 * Units: `price` in major units of the currency for one `priceUnit`; `quantity` in the same unit.
 */
export function lineValue(quantity: Ratio, price: Ratio, minorDigits = 2): Minor {
  return nearestEven(quantity.mul(price).mul(ratio(10n ** BigInt(minorDigits))))
}
