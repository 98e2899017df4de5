export { issue, lineValue, type Holding, type Minor } from './moving-average'
export { accountOf, ACCOUNTS, type AccountClass, type PlaceKind } from './accounts'
export {
  COST_METHODS,
  CostPool,
  emptyPool,
  type Amounts,
  type CostLayer,
  type CostMethod,
  type PoolState,
} from './cost-pool'
export { otherEnd, type Basis, type CostMove } from './value-moves'
export { shareWork, type Closing, type JobHistory, type SharedWork } from './share-work'
export {
  NEW_JOB,
  revalue,
  type HistoryRequest,
  type LackedThen,
  type PoolHistory,
  type RecordedJob,
  type RecordedMove,
  type Revaluation,
  type StandardChange,
} from './revalue'
export { buildDifferences, type BuildDifferences, type UsedComponent } from './build-differences'
