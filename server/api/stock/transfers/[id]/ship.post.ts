import { once } from '~~/server/database/transactions'
import { shipTransfer } from '~~/server/services/stock/transfers'
import { IdParam } from '~~/shared/primitives'
import { ShipTransfer } from '~~/shared/stock/transfers'

export default route('stock', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(ShipTransfer, await readBody(event))
  return once(actor, key, async (tx) => ({ postingId: (await shipTransfer(tx, actor, id, edit)).postingId }))
})
