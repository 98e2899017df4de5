import { nearestEven, ratio, ZERO, type Ratio } from '../units/exact'
import type { Minor } from '../costing'

/** Goods received under an order's line, with what they were valued at and what of them is invoiced already. */
export interface InvoicedReceipt {
  readonly quantity: Ratio
  readonly invoiced: Ratio
  readonly given: Minor
}

/** What of an invoice falls on one receipt: amounts in minor units of the company's currency. */
export interface InvoicePart<R> {
  readonly receipt: R
  readonly quantity: Ratio
  readonly amount: Minor
  /** How much more the receipt's goods cost than they stand at. */
  readonly delta: Minor
}

/**
 * Gives an invoice's amount to the receipts that no invoice has named yet, in their order.
 *
 * Each part costs its share of the amount, the last what is left of it, so that the parts add up. `left` is what was
 * invoiced beyond what came in.
 * Units: minor units of the company's currency; quantities of one unit.
 *
 * @example 100 for 3, of receipts of 2 and 2 → 67 for 2 of the first, 33 for 1 of the second
 */
export function matchInvoice<R extends InvoicedReceipt>(
  invoice: { readonly quantity: Ratio; readonly amount: Minor },
  receipts: readonly R[],
): { readonly parts: readonly InvoicePart<R>[]; readonly left: Ratio } {
  const parts: InvoicePart<R>[] = []
  let left = invoice.quantity
  let spent = 0n
  for (const receipt of receipts) {
    const open = receipt.quantity.sub(receipt.invoiced)
    if (left.compare(ZERO) <= 0 || open.compare(ZERO) <= 0) {
      continue
    }
    const quantity = open.compare(left) < 0 ? open : left
    left = left.sub(quantity)
    const share = nearestEven(ratio(invoice.amount).mul(quantity).div(invoice.quantity))
    const amount = left.compare(ZERO) <= 0 ? invoice.amount - spent : share
    spent += amount
    parts.push({ receipt, quantity, amount, delta: amount - valueOf(receipt, quantity) })
  }
  return { parts, left }
}

/**
 * What the next goods of a receipt to be invoiced stand at: rounded by running totals, so that all of them add up to
 * it.
 */
function valueOf({ given, quantity, invoiced }: InvoicedReceipt, next: Ratio): Minor {
  const upTo = (amount: Ratio): Minor => nearestEven(ratio(given).mul(amount).div(quantity))
  return upTo(invoiced.add(next)) - upTo(invoiced)
}
