import { pool } from '~~/server/database/client'
import { checkLedger } from '~~/server/ledger/check'
import { ledgerVerdict } from './doctor'
import type { Check } from '~~/shared/running/answers'

export { examine } from './doctor'

/** Works the ledger out again, and says what came of it. */
export const checkLedgerNow = async (): Promise<Check> => ledgerVerdict('Now', (await checkLedger()).length)

/** Ends the connections of a program that is done. */
export const closeDatabase = (): Promise<void> => pool.end()
