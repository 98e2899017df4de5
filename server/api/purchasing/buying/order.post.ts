import { once } from '~~/server/database/transactions'
import { orderNeeds } from '~~/server/services/purchasing/buying/order-needs'
import { OrderNeeds } from '~~/shared/purchasing/requests'

export default route('buy', async (event, actor) => {
  const { key, ...edit } = input(OrderNeeds, await readBody(event))
  return once(actor, key, (tx) => orderNeeds(tx, actor, edit))
})
