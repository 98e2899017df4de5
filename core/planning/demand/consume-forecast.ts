import type { Day } from '../../calendar/days'

/** What counts where orders and a forecast speak of the same period. */
export type DemandRule = 'both' | 'orders only' | 'forecast only' | 'larger'

export interface ForecastPeriod {
  readonly first: Day
  readonly last: Day
  readonly quantity: number
}

interface OrderedQuantity {
  readonly day: Day
  readonly quantity: number
}

/**
 * What is left of a forecast beside the orders of one node, by its demand rule.
 *
 * *larger* is forecast consumption: an order uses up its own period first, then periods up to `backDays` before it
 * (nearest first), then up to `aheadDays` after it (nearest first). Orders themselves are never reduced; *forecast
 * only* leaves it to the caller to drop them.
 *
 * Shape: one period each, in the order given.
 *
 * @example forecast 20 in the week, an order of 8 in it → 12 left beside the order
 */
export function consumeForecast(
  periods: readonly ForecastPeriod[],
  orders: readonly OrderedQuantity[],
  rule: DemandRule,
  backDays = 0,
  aheadDays = 0,
): readonly ForecastPeriod[] {
  if (rule === 'orders only') {
    return periods.map((period) => ({ ...period, quantity: 0 }))
  }
  if (rule !== 'larger') {
    return periods
  }
  const left = periods.map((period) => period.quantity)
  for (const order of [...orders].sort((a, b) => a.day - b.day)) {
    let open = order.quantity
    for (const index of reach(periods, order.day, backDays, aheadDays)) {
      const used = Math.min(open, left[index]!)
      left[index]! -= used
      open -= used
    }
  }
  return periods.map((period, index) => ({ ...period, quantity: left[index]! }))
}

function reach(periods: readonly ForecastPeriod[], day: Day, backDays: number, aheadDays: number): readonly number[] {
  const indexes = periods.map((_, index) => index)
  const own = indexes.filter((i) => periods[i]!.first <= day && day <= periods[i]!.last)
  const before = indexes
    .filter((i) => periods[i]!.last < day && periods[i]!.last >= day - backDays)
    .sort((a, b) => periods[b]!.last - periods[a]!.last)
  const after = indexes
    .filter((i) => periods[i]!.first > day && periods[i]!.first <= day + aheadDays)
    .sort((a, b) => periods[a]!.first - periods[b]!.first)
  return [...own, ...before, ...after]
}
