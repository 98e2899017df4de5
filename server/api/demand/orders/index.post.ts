import { once } from '~~/server/database/transactions'
import { createOrder } from '~~/server/services/demand/orders'
import { NewSalesOrder } from '~~/shared/demand/requests'

export default route('demand', async (event, actor) => {
  const { key, ...edit } = input(NewSalesOrder, await readBody(event))
  return once(actor, key, (tx) => createOrder(tx, actor, edit))
})
