export { applyMoves, type Balance, type BalanceKey, type StockMove, type StockError, type ShortLine } from './apply-moves'
export { pick, pickOrder, type Pickable, type Pick } from './pick'
export { describeStockError } from './describe'
