import { toDay, toIso } from '../calendar/days'
import { daysIn, periodsBetween, roundOf, type Period, type Step } from '../calendar/periods'
import type { Series } from './series'

/** What was sold on a day, in the item's stock unit. */
export interface DaySale {
  readonly day: string
  readonly quantity: number
}
/** What a stretch of days counts as, instead of what was sold in it. */
export interface HistoryCorrection extends Period {
  readonly quantity: number
}
/** A share of what another item sold, up to and including a day, counts beside its own. */
export interface Borrowing {
  readonly share: number
  readonly until: string
  readonly sales: readonly DaySale[]
}

export interface HistoryInput {
  readonly sales: readonly DaySale[]
  readonly corrections?: readonly HistoryCorrection[]
  readonly borrowed?: Borrowing | null
  readonly step: Step
  /** The last day that counts; a period that it cuts is left out. */
  readonly upTo: string
}

/** The history that forecasts are made from; `sold` beside it is what the books say of the same periods. */
export interface History {
  readonly periods: readonly Period[]
  readonly series: Series
  readonly sold: readonly number[]
  readonly borrowed: readonly number[]
}

/**
 * The series of an item: its own sales, odd stretches corrected, and what it borrows, summed by whole periods from the
 * first sale on.
 *
 * A correction keeps the shape of the days in its stretch; where nothing was sold in it, it is spread evenly.
 *
 * Errors: null where there is no whole period with anything in or before it.
 */
export function historyOf({ sales, corrections = [], borrowed = null, step, upTo }: HistoryInput): History | null {
  const lent =
    borrowed === null
      ? []
      : borrowed.sales
          .filter((sale) => sale.day <= borrowed.until)
          .map((sale) => ({ day: sale.day, quantity: sale.quantity * borrowed.share }))
  const counted = corrected(sales, corrections)
  const first = [...counted, ...lent].reduce<string | null>(
    (least, sale) => (sale.quantity !== 0 && (least === null || sale.day < least) ? sale.day : least),
    null,
  )
  if (first === null || first > upTo) {
    return null
  }
  const periods = periodsBetween(first, upTo, step).filter((period) => period.last <= upTo)
  if (periods.length === 0) {
    return null
  }
  const [sold, own, candidate] = [sales, counted, lent].map((list) => sumByPeriod(list, periods)) as [
    number[],
    number[],
    number[],
  ]
  return {
    periods,
    sold,
    borrowed: candidate,
    series: {
      values: own.map((value, index) => Math.max(0, value + candidate[index]!)),
      period: roundOf(step),
      days: periods.map(daysIn),
    },
  }
}

function corrected(sales: readonly DaySale[], corrections: readonly HistoryCorrection[]): DaySale[] {
  let all = [...sales]
  for (const { first, last, quantity } of corrections) {
    const inside = all.filter((sale) => sale.day >= first && sale.day <= last)
    const sum = inside.reduce((total, sale) => total + sale.quantity, 0)
    const days = daysIn({ first, last })
    const instead =
      sum > 0
        ? inside.map((sale) => ({ day: sale.day, quantity: (sale.quantity * quantity) / sum }))
        : Array.from({ length: days }, (_, index) => ({ day: toIso(toDay(first) + index), quantity: quantity / days }))
    all = [...all.filter((sale) => sale.day < first || sale.day > last), ...instead]
  }
  return all
}

/** Sums by period; what lies outside all of them is left out. */
function sumByPeriod(sales: readonly DaySale[], periods: readonly Period[]): number[] {
  const sums = periods.map(() => 0)
  const starts = periods.map((period) => period.first)
  for (const { day, quantity } of sales) {
    let [low, high] = [0, starts.length - 1]
    while (low < high) {
      const middle = (low + high + 1) >> 1
      if (starts[middle]! <= day) {
        low = middle
      } else {
        high = middle - 1
      }
    }
    if (day >= starts[low]! && day <= periods[low]!.last) {
      sums[low]! += quantity
    }
  }
  return sums
}
