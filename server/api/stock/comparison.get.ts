import { compareLedger } from '~~/server/ledger/compare-ledger'

export default route('see', async () => compareLedger())
