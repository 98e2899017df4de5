import { toDay, toIso, weekday } from '~~/core/calendar/days'
import { ratio } from '~~/core/units/exact'
import type { TimelineRow } from '~~/shared/catalogue/answers'
import type { BoardCell } from '../planning/use-board'

/** A week of an item's balance to come. Exact quantities as text, in the stock unit; days in ISO 8601. */
export interface BalanceWeek {
  readonly first: string
  readonly last: string
  /** At its end, and the least of its days. */
  readonly balance: string
  readonly lowest: string
  readonly labels: readonly string[]
  /** As the plan board draws it; only drawn, so as numbers. */
  readonly cell: BoardCell
}

const drawn = (quantity: string): number => Number(ratio(quantity))

/**
 * The balance of an item week by week, from what is there, what is ordered and being made, and what is wanted; nothing
 * is planned along.
 */
export function balanceWeeks(
  rows: readonly TimelineRow[],
  onHand: string,
  today: string,
  count: number,
): readonly BalanceWeek[] {
  const monday = toDay(today) - weekday(toDay(today))
  let balance = onHand
  let next = 0
  return Array.from({ length: count }, (_, at) => {
    const first = at === 0 ? today : toIso(monday + at * 7)
    const last = toIso(monday + at * 7 + 6)
    const own: TimelineRow[] = []
    // What is overdue counts in the first week.
    while (next < rows.length && rows[next]!.day <= last) {
      own.push(rows[next++]!)
    }
    const before = balance
    balance = own.at(-1)?.balance ?? balance
    const lowest = own.reduce(
      (least, row) => (drawn(row.balance) < drawn(least) ? row.balance : least),
      own.length ? balance : before,
    )
    const into = own.filter((row) => !row.change.startsWith('-')).reduce((sum, row) => sum + drawn(row.change), 0)
    const cell = {
      grossRequirements: 0,
      scheduledReceipts: into,
      netRequirements: 0,
      plannedReceipts: 0,
      plannedReleases: 0,
      projectedAvailable: drawn(balance),
      withoutOrders: drawn(balance),
      lowest: drawn(lowest),
      lowestProjected: drawn(lowest),
    }
    return { first, last, balance, lowest, labels: own.map((row) => row.label), cell }
  })
}
