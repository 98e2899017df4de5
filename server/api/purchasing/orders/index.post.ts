import { once } from '~~/server/database/transactions'
import { createPurchase } from '~~/server/services/purchasing/orders'
import { NewPurchaseOrder } from '~~/shared/purchasing/requests'

export default route('buy', async (event, actor) => {
  const { key, ...edit } = input(NewPurchaseOrder, await readBody(event))
  return once(actor, key, (tx) => createPurchase(tx, actor, edit))
})
