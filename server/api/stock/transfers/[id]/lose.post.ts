import { once } from '~~/server/database/transactions'
import { loseTransfer } from '~~/server/services/stock/transfers'
import { IdParam } from '~~/shared/primitives'
import { LoseTransfer } from '~~/shared/stock/transfers'

export default route('stock', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(LoseTransfer, await readBody(event))
  return once(actor, key, async (tx) => ({ postingId: (await loseTransfer(tx, actor, id, edit)).postingId }))
})
