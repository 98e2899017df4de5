import { inTransaction } from '~~/server/database/transactions'
import { mendLedger } from '~~/server/ledger/check'

export default route('people', async (_, actor) => inTransaction((tx) => mendLedger(tx, actor)))
