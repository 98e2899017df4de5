import type { Ratio } from '../../units/exact'

/**
 * What a purchase order says for a planned order: the pack or order quantity as often as the plan took it, else what
 * was asked for.
 *
 * Units: the supplier's unit. `times` is 0 where no multiple was taken, or a person fixed the quantity.
 *
 * @example 3 times a pack of 25 → 75
 */
export function buyingQuantity(order: {
  readonly asked: Ratio
  readonly multiple: Ratio
  readonly times: number
}): Ratio {
  return order.times === 0 || order.multiple.equals(0) ? order.asked : order.multiple.mul(order.times)
}

/**
 * The least that may be ordered and covers what is asked for: at least the minimum, up to the next multiple. Units: the
 * supplier's unit.
 */
export function orderable(asked: Ratio, minimum: Ratio, multiple: Ratio): Ratio {
  const least = asked.compare(minimum) < 0 ? minimum : asked
  return multiple.equals(0) ? least : multiple.mul(timesFor(least, multiple))
}

/** How often a break-down is done so that at least so much of an output comes out: whole times. */
export const timesFor = (wanted: Ratio, each: Ratio): Ratio => wanted.div(each).ceil()
