import { registerReversals } from '~~/server/ledger/reversals'
import { dispatchReversals } from './dispatch/reversal'
import { inspectionReversals } from './inspection'
import { purchasingReversals } from './purchasing/reversal'
import { stockReversals } from './stock/reversal'
import { workshopReversals } from './workshop/reversal'

/**
 * Tells the ledger how each area takes its postings back; the server and the tests do so once, before anything is
 * reversed.
 */
export function loadReversals(): void {
  for (const reversals of [
    dispatchReversals,
    inspectionReversals,
    purchasingReversals,
    stockReversals,
    workshopReversals,
  ]) {
    registerReversals(reversals)
  }
}
