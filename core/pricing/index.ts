export { rateOn } from './exchange'
export { sellingPrice, type SellingRule } from './selling'
export { buyingPrice, tierAt, type PriceTier } from './tiers'
