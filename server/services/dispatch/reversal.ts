import type { Reversals } from '~~/server/ledger/reversals'
import { openAgain, takeBackLines } from '~~/server/ledger/take-back-lines'

export const dispatchReversals: Reversals = {
  'document sales order': {
    reopen: async (tx, original, lines) => {
      await takeBackLines(tx, 'sales_lines', 'shipped', lines)
      await openAgain(tx, 'sales_orders', original.documentId!)
    },
  },
}
