import { once } from '~~/server/database/transactions'
import { cancelOrder } from '~~/server/services/demand/order-end'
import { EndOrder } from '~~/shared/demand/requests'
import { IdParam } from '~~/shared/primitives'

export default route('demand', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...seen } = input(EndOrder, await readBody(event))
  return once(actor, key, (tx) => cancelOrder(tx, actor, id, seen))
})
