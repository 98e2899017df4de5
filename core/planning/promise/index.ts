export { describeSupplyOption, type SupplyOptionWords } from './describe-supply-option'
export { promise, type SupplyOption } from './promise'
