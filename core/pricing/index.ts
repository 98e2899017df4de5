export { buyingPrice, tierAt, type PriceTier } from './tiers'
export { sellingPrice, type SellingRule, type SellingPrice } from './selling'
export { rateOn, type ExchangeRate } from './exchange'
