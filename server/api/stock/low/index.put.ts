import { inTransaction } from '~~/server/database/transactions'
import { setLowStock } from '~~/server/services/stock/low-stock'
import { LowStockSettings } from '~~/shared/planning/low-stock-requests'

export default route('plan', async (event, actor) => {
  const settings = input(LowStockSettings, await readBody(event))
  return inTransaction((tx) => setLowStock(tx, actor, settings))
})
