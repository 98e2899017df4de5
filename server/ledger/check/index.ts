export { checkLedger } from './check-ledger'
export type { LedgerDifference } from './difference'
export { checkOnce, mendLedger } from './mend'
