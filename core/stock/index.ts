export {
  applyMoves,
  STOCK_STATUSES,
  type Balance,
  type StockMove,
  type StockError,
  type StockStatus,
} from './apply-moves'
export { describeStockError } from './describe'
export { pick, pickOrder, type Pickable } from './pick'
export { possibleUses, type Flow, type PossibleUses } from './possible-uses'
export { coveredFrom, type DatedChange } from './covered-from'
