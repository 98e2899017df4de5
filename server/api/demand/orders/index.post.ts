import { once } from '~~/server/services/company/command'
import { createOrder } from '~~/server/services/demand/orders'
import { NewSalesOrder } from '~~/shared/demand'

export default route('demand', async (event, actor) => {
  const { key, ...edit } = input(NewSalesOrder, await readBody(event))
  return once(actor, key, (tx) => createOrder(tx, actor, edit))
})
