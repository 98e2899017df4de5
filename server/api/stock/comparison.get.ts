import { compareLedger } from '~~/server/services/stock/queries'

export default route('see', async () => compareLedger())
