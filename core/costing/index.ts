export { accountOf, type AccountClass } from './accounts'
export { buildDifferences, type BuildDifferences } from './build-differences'
export { emptyPool, COST_METHODS, type CostMethod, type PoolState, type Amounts } from './cost-pool'
export { lineValue } from './moving-average'
export {
  NEW_JOB,
  revalue,
  type HistoryRequest,
  type PoolHistory,
  type RecordedJob,
  type RecordedMove,
  type LackedThen,
  type Revaluation,
} from './revalue'
export { shareWork } from './share-work'
export type { Basis, CostMove } from './value-moves'
export { matchInvoice } from './match-invoice'
