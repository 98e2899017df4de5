import { ZERO, type Ratio } from '../units/exact'

/**
 * A dated change of one item's stock that is still to come: what arrives is above zero, what is wanted below. Stock
 * unit, exact.
 */
export interface DatedChange {
  readonly id: string
  /** ISO 8601. */
  readonly day: string
  readonly quantity: Ratio
}

const byDay = (a: DatedChange, b: DatedChange): number => {
  if (a.day !== b.day) {
    return a.day < b.day ? -1 : 1
  }
  return a.id < b.id ? -1 : 1
}

/**
 * From which day on each demand is covered by what is there and what comes, the earliest demand being served first and
 * whole: its own day where there is enough by then, the day of the arrival that completes it where it has to wait, null
 * where nothing that is to come suffices.
 *
 * Shape:  demands by their ids.
 * Units:  stock unit, exact; days in ISO 8601.
 *
 * @example 2 are there, 4 come on the 9th; 3 are wanted on the 8th and 3 on the 10th → the 9th and the 10th
 */
export function coveredFrom(onHand: Ratio, changes: readonly DatedChange[]): ReadonlyMap<string, string | null> {
  const arrivals = changes.filter((change) => change.quantity.compare(ZERO) > 0).sort(byDay)
  const demands = changes.filter((change) => change.quantity.compare(ZERO) < 0).sort(byDay)
  const covered = new Map<string, string | null>()
  let free = onHand
  let next = 0
  // Whoever is served after an arrival was waited for is served from it or from a later one.
  let since = ''
  for (const demand of demands) {
    free = free.add(demand.quantity)
    while (free.compare(ZERO) < 0 && next < arrivals.length) {
      const arrival = arrivals[next++]!
      free = free.add(arrival.quantity)
      since = arrival.day
    }
    const day = since > demand.day ? since : demand.day
    covered.set(demand.id, free.compare(ZERO) < 0 ? null : day)
  }
  return covered
}
