export { parseQuantity, findUnit, type ParseError, type ParsedQuantity } from './parse-quantity'
export { typedQuantity, type TypedQuantity } from './typed-quantity'
export { printAmount, grouped, splitIntoPacks, printMixed } from './print-quantity'
export type { DecimalSign, Grouping, NumberFormat } from './print-quantity'
export {
  readStockQuantity,
  exactStockQuantity,
  givenText,
  type ItemMeasure,
  type Given,
  type GivenQuantity,
  type StockQuantity,
} from './stock-quantity'
