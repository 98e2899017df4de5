import { inTransaction } from '~~/server/services/company/command'
import { setLowStock } from '~~/server/services/stock/low-stock'
import { LowStockSettings } from '~~/shared/low-stock'

export default route('plan', async (event, actor) => {
  const settings = input(LowStockSettings, await readBody(event))
  return inTransaction((tx) => setLowStock(tx, actor, settings))
})
