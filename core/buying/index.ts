export { offerFor, type NextTier, type Offer, type SellingTerms } from './offer'
export { proposeOffer, type Comparable } from './compare-offers'
export { landedLines, leastTotal, MOST_QUOTED, type Choice, type Quoted, type QuotedLine } from './compare-quotations'
