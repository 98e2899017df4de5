export { classByValue, type ValueClass } from './class-by-value'
export {
  MARK_NAMES,
  MARKS,
  stockLevelsOn,
  checkStockLevels,
  describeMarkError,
  type MarkRule,
  type StockLevels,
} from './stock-levels'
