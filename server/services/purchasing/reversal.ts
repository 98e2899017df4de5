import type { Reversals } from '~~/server/ledger/reversals'
import { openAgain, takeBackLines } from '~~/server/ledger/take-back-lines'

export const purchasingReversals: Reversals = {
  'document purchase order': {
    reopen: async (tx, original, lines) => {
      await takeBackLines(tx, 'purchase_lines', 'received', lines)
      await openAgain(tx, 'purchase_orders', original.documentId!)
    },
  },
}
