import { nearestEven, type Ratio } from '../units/exact'
import type { Minor } from './moving-average'

/**
 * A component of a build: what the bill wants for the whole build, what went in, what one was thought to cost, what all
 * of it did cost.
 */
export interface UsedComponent {
  readonly need: Ratio
  readonly used: Ratio
  readonly planned: Ratio
  readonly cost: Minor
}
/** Why a component cost what it cost, in parts that add up to `actual`. Minor units. */
export interface BuildDifferences {
  /** What the bill says that the good output costs, in minor units. */
  readonly bill: Minor
  /** More or less was used, at the price that was thought. */
  readonly usage: Minor
  /** What was used cost more or less than was thought. */
  readonly price: Minor
  /** Components of output that did not come. */
  readonly yield: Minor
  readonly actual: Minor
}

/**
 * Why a component cost more, or less, than the bill says for what came out: bill + usage + price + yield = actual, to
 * the minor unit.
 *
 * A build that is still going on is held against the bill for what it has made, so all of its difference is usage and
 * price.
 * Units:  `planned` in minor units for one stock unit of the component.
 * Source: price at actual quantity, usage at standard price: Horngren, Datar, Rajan, Cost Accounting, chapter on
 *         direct-cost
 *         variances (from memory).
 *
 * @example 24 books need 0.288 kg at 5.00; 20 came out, 0.35 kg went in at 5.40 → bill 1.20, usage 0.31, price 0.14,
 *   yield 0.24, actual 1.89
 */
export function buildDifferences(
  component: UsedComponent,
  build: { readonly quantity: Ratio; readonly made: Ratio; readonly done: boolean },
): BuildDifferences {
  const good = component.need.mul(build.made).div(build.quantity)
  const wanted = build.done ? component.need : good
  const [bill, whole, used] = [good, wanted, component.used].map((quantity) =>
    nearestEven(quantity.mul(component.planned)),
  )
  return {
    bill: bill!,
    usage: used! - whole!,
    price: component.cost - used!,
    yield: whole! - bill!,
    actual: component.cost,
  }
}
