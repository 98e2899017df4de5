import { once } from '~~/server/database/transactions'
import { receiveTransfer } from '~~/server/services/stock/transfers'
import { IdParam } from '~~/shared/primitives'
import { ReceiveTransfer } from '~~/shared/stock/transfers'

export default route('stock', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(ReceiveTransfer, await readBody(event))
  return once(actor, key, async (tx) => ({ postingId: (await receiveTransfer(tx, actor, id, edit)).postingId }))
})
