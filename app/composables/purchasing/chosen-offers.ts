import type { NeedRow, OfferRow } from '~~/shared/purchasing/buying'

/** So much of what is wanted is bought from one supplier, in the unit that they sell it in. */
export interface ChosenOffer {
  readonly offer: OfferRow
  readonly quantity: string
}

/** What is bought where nobody chose otherwise: all of it from the supplier that is proposed, or from `preferred`. */
export function proposedOffers(need: NeedRow, preferred: number | null = null): readonly ChosenOffer[] {
  const offer =
    need.offers.find(({ supplierId }) => supplierId === preferred) ??
    need.offers.find(({ supplierId }) => supplierId === need.supplierId) ??
    need.offers[0]
  return offer ? [{ offer, quantity: offer.quantity }] : []
}

/** Days of an order’s line: what is needed, or the day on which it can be there at the soonest. */
export const dueOf = (need: NeedRow, { arrivesOn }: OfferRow): string =>
  arrivesOn > need.neededOn ? arrivesOn : need.neededOn
