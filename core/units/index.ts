export { ratio, ZERO, ONE, parts, toText, toDecimal, nearestEven, upwards, type Ratio, isRatio } from './ratio'
export { standardUnits, type Unit, type Dimension } from './standard-units'
export {
  buildUnitGraph,
  convert,
  reachableUnits,
  type UnitGraph,
  type UnitRelation,
  type UnitError,
} from './unit-graph'
export { parseQuantity, findUnit, type ParseError, type ParsedQuantity } from './parse-quantity'
export { toSteps, type Stepped } from './steps'
export { printAmount, grouped, splitIntoPacks, printMixed } from './print-quantity'
export { describeUnitError } from './describe'
export {
  exactStockQuantity,
  givenText,
  readStockQuantity,
  type Given,
  type GivenQuantity,
  type ItemMeasure,
  type StockQuantity,
} from './stock-quantity'
