import { db, type Reader } from '~~/server/database/client'
import { checkBalances } from './balances'
import type { LedgerDifference } from './difference'
import { checkDocuments } from './documents'
import { checkJournal } from './journal'
import { checkMonths } from './months'
import { checkValues } from './values'

/**
 * Works out again all that is kept as a sum, from what was recorded, at one moment, and names everything that differs;
 * nothing should. Nothing is changed.
 */
export const checkLedger = (): Promise<LedgerDifference[]> =>
  db.transaction(differencesIn, { isolationLevel: 'repeatable read', accessMode: 'read only' })

export async function differencesIn(reader: Reader): Promise<LedgerDifference[]> {
  return [
    ...(await checkBalances(reader)),
    ...(await checkMonths(reader)),
    ...(await checkDocuments(reader)),
    ...(await checkValues(reader)),
    ...(await checkJournal(reader)),
  ]
}
