import { inTransaction } from '~~/server/services/company/command'
import { lookForLowStock } from '~~/server/services/stock/low-stock'

export default route('plan', async (_, actor) => inTransaction(async tx => ({ lines: (await lookForLowStock(tx, actor.today)).length })))
