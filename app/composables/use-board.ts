import { toDay, toIso, weekday } from '~~/core/calendar'
import type { NodePlan, PlanDay } from '~~/core/planning'

export type Grain = 'days' | 'weeks' | 'months'
export interface Bucket { readonly key: string, readonly first: string, readonly last: string, readonly label: string }
export interface BoardCell extends Omit<PlanDay, 'day'> { readonly lowest: number }

/** The spans of days that the board's columns stand for; the first begins with the plan. */
export function bucketsOf(startsOn: string, endsOn: string, grain: Grain, print: (iso: string) => string): readonly Bucket[] {
  const buckets: Bucket[] = []
  for (let first = startsOn; first <= endsOn;) {
    const next = grain === 'days' ? toIso(toDay(first) + 1) : grain === 'weeks' ? toIso(toDay(first) + 7 - weekday(toDay(first))) : nextMonth(first)
    const last = toIso(toDay(next) - 1)
    buckets.push({ key: first, first, last: last > endsOn ? endsOn : last, label: print(first) })
    first = next
  }
  return buckets
}

const nextMonth = (iso: string): string => { const [year, month] = iso.split('-').map(Number) as [number, number]; return month === 12 ? `${year + 1}-01-01` : `${year}-${String(month + 1).padStart(2, '0')}-01` }

/** One node's days gathered into buckets: flows are summed, balances taken at the end of each. Finest steps. */
export function cellsOf(node: NodePlan, buckets: readonly Bucket[]): readonly BoardCell[] {
  let balance = node.onHand
  let bare = node.onHand
  let at = 0
  return buckets.map((bucket) => {
    const cell = { grossRequirements: 0, scheduledReceipts: 0, netRequirements: 0, plannedReceipts: 0, plannedReleases: 0, projectedAvailable: 0, withoutOrders: 0, lowest: Infinity }
    for (; node.days[at] && node.days[at]!.day <= bucket.last; at++) {
      const day = node.days[at]!
      cell.grossRequirements += day.grossRequirements
      cell.scheduledReceipts += day.scheduledReceipts
      cell.netRequirements += day.netRequirements
      cell.plannedReceipts += day.plannedReceipts
      cell.plannedReleases += day.plannedReleases
      balance = day.projectedAvailable
      bare = day.withoutOrders
      cell.lowest = Math.min(cell.lowest, bare)
    }
    return { ...cell, projectedAvailable: balance, withoutOrders: bare, lowest: Math.min(cell.lowest, bare) }
  })
}
