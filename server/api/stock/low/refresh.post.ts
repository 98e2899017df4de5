import { once } from '~~/server/services/company/command'
import { lookForLowStock } from '~~/server/services/stock/low-stock'
import { LookAgain } from '~~/shared/low-stock'

export default route('plan', async (event, actor) => {
  const { key } = input(LookAgain, await readBody(event))
  return once(actor, key, async (tx) => ({ lines: (await lookForLowStock(tx, actor.today)).length }))
})
