import { once } from '~~/server/database/transactions'
import { lookForLowStock } from '~~/server/services/stock/low-stock'
import { LookAgain } from '~~/shared/planning/low-stock-requests'

export default route('plan', async (event, actor) => {
  const { key } = input(LookAgain, await readBody(event))
  return once(actor, key, async (tx) => ({ lines: (await lookForLowStock(tx, actor.today)).length }))
})
