import { refuse, ok, type Result } from '../result'
import { shareAmount } from '../sharing'
import { convert } from '../units/graph'
import type { UnitGraph } from '../units/graph'
import { ratio, ZERO, type Ratio } from '../units/exact'
import type { Minor } from '../costing'

/** By what a charge is spread over the goods that it was for. */
export const SPREADS = ['value', 'quantity', 'mass', 'volume'] as const
/** One of them. */
export type Spread = (typeof SPREADS)[number]

/** Goods received: `value` in minor units, `quantity` in `unit`. */
export interface ChargedReceipt {
  readonly value: Minor
  readonly quantity: Ratio
  readonly unit: string
  readonly graph: UnitGraph
}

/**
 * Why a charge cannot be spread: nothing to spread it over; a receipt (its place) that is counted in another unit than
 * the first, or has no mass or volume; or all of them weigh nothing.
 */
export type SpreadFault =
  | { readonly kind: 'nothing' }
  | { readonly kind: 'other unit' | 'no measure'; readonly at: number }
  | { readonly kind: 'all nought' }

const MEASURES: Readonly<Record<'mass' | 'volume', string>> = { mass: 'kg', volume: 'm3' }

/**
 * What of a charge (freight, duty, insurance) falls on each receipt: in proportion, each share cut off to the minor
 * unit and the rest on the last receipt, so that the shares add up. A charge below nought is a rebate.
 *
 * Source: IAS 2.10–11, costs of purchase; the proportions are common practice.
 *
 * @example 100 by value, over receipts worth 200, 200 and 200 → 33, 33, 34
 */
export function spreadCharge(
  charge: Minor,
  by: Spread,
  receipts: readonly ChargedReceipt[],
): Result<readonly Minor[], SpreadFault> {
  if (receipts.length === 0) {
    return refuse({ kind: 'nothing' })
  }
  const weights = weightsBy(by, receipts)
  if (!weights.ok) {
    return weights
  }
  return weights.value.some((weight) => weight.compare(ZERO) > 0)
    ? ok(shareAmount(charge, weights.value))
    : refuse({ kind: 'all nought' })
}

function weightsBy(by: Spread, receipts: readonly ChargedReceipt[]): Result<readonly Ratio[], SpreadFault> {
  if (by === 'value') {
    return ok(receipts.map((receipt) => (receipt.value > 0n ? ratio(receipt.value) : ZERO)))
  }
  if (by === 'quantity') {
    const at = receipts.findIndex((receipt) => receipt.unit !== receipts[0]!.unit)
    return at < 0 ? ok(receipts.map((receipt) => receipt.quantity)) : refuse({ kind: 'other unit', at })
  }
  const weights: Ratio[] = []
  for (const [at, receipt] of receipts.entries()) {
    const measured = convert(receipt.graph, receipt.quantity, receipt.unit, MEASURES[by])
    if (!measured.ok) {
      return refuse({ kind: 'no measure', at })
    }
    weights.push(measured.value)
  }
  return ok(weights)
}
