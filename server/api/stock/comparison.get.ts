import { checkLedger } from '~~/server/ledger/check'

export default route('see', async () => checkLedger())
