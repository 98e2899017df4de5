export { offerFor, type NextTier, type Offer, type SellingTerms } from './offer'
export { proposeOffer, type Comparable } from './compare-offers'
