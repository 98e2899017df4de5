export {
  applyMoves,
  STOCK_STATUSES,
  type StockStatus,
  type Balance,
  type BalanceKey,
  type StockMove,
  type StockError,
  type ShortLine,
} from './apply-moves'
export { pick, pickOrder, type Pickable, type Pick } from './pick'
export { describeStockError } from './describe'
export {
  checkStockLevels,
  describeMarkError,
  stockLevelsOn,
  MARKS,
  MARK_NAMES,
  type Mark,
  type MarkRule,
  type StockLevels,
} from './stock-levels'
export { classByValue, type ValueClass } from './class-by-value'
