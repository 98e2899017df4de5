import { ratio, type Ratio } from '../units/exact'

/** A price from a quantity on, and between two days (either may be open). */
export interface PriceTier {
  readonly fromQuantity: string
  readonly fromOn: string | null
  readonly untilOn: string | null
  readonly price: string
}

/** Whether a tier holds for a quantity on a day. */
export const holds = (tier: PriceTier, quantity: Ratio, day: string): boolean =>
  ratio(tier.fromQuantity).compare(quantity) <= 0 &&
  (tier.fromOn === null || tier.fromOn <= day) &&
  (tier.untilOn === null || day <= tier.untilOn)

/**
 * The price that counts among tiers: the one that begins at the largest quantity; of two of these, the one that began
 * last.
 *
 * Units: quantities in the unit of the price; days as ISO text.
 * Null where no tier holds.
 */
export function tierAt<T extends PriceTier>(tiers: readonly T[], quantity: Ratio, day: string): T | null {
  let best: T | null = null
  for (const tier of tiers) {
    if (!holds(tier, quantity, day)) {
      continue
    }
    const order =
      best === null
        ? 1
        : ratio(tier.fromQuantity).compare(ratio(best.fromQuantity)) || compareDays(tier.fromOn, best.fromOn)
    if (order > 0) {
      best = tier
    }
  }
  return best
}

const compareDays = (a: string | null, b: string | null): number => {
  if ((a ?? '') < (b ?? '')) {
    return -1
  }
  if ((a ?? '') > (b ?? '')) {
    return 1
  }
  return 0
}

/** What a supplier asks for one unit when `quantity` of it is ordered on `day`: a tier's price, else the plain one. */
export const buyingPrice = (plain: string, tiers: readonly PriceTier[], quantity: Ratio, day: string): string =>
  tierAt(tiers, quantity, day)?.price ?? plain
