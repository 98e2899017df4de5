import { once } from '~~/server/services/company/command'
import { createPurchase } from '~~/server/services/purchasing/orders'
import { NewPurchaseOrder } from '~~/shared/purchasing'

export default route('buy', async (event, actor) => {
  const { key, ...edit } = input(NewPurchaseOrder, await readBody(event))
  return once(actor, key, (tx) => createPurchase(tx, actor, edit))
})
