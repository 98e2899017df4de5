export { describeSupplyOption, type SupplyOptionWords } from './describe-supply-option'
export { OpenPromises, promise } from './promise'
export type { Promised, PromiseRequest, SupplyOption } from './supply-option'
