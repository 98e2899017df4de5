import { compareLedger } from '~~/server/services/stock/compare-ledger'

export default route('see', async () => compareLedger())
