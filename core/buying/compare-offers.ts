import type { Ratio } from '../units/exact'

/** What decides between suppliers: the cost in the company's own currency, and the day on which it would be there. */
export interface Comparable {
  readonly cost: Ratio
  readonly arrivesOn: string
}

/**
 * The supplier that is proposed: of those that would be there by the day (ISO text), the one that costs least; where
 * none would, the soonest, and of these the one that costs least. Null of none.
 */
export function proposeOffer<T extends Comparable>(offers: readonly T[], neededOn: string): T | null {
  const inTime = offers.filter(({ arrivesOn }) => arrivesOn <= neededOn)
  const [best] =
    inTime.length > 0
      ? [...inTime].sort((first, second) => first.cost.compare(second.cost))
      : [...offers].sort(
          (first, second) => compareDays(first.arrivesOn, second.arrivesOn) || first.cost.compare(second.cost),
        )
  return best ?? null
}

function compareDays(first: string, second: string): number {
  if (first === second) {
    return 0
  }
  return first < second ? -1 : 1
}
