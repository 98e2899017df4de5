import { once } from '~~/server/database/transactions'
import { heavy } from '~~/server/heavy'
import { sendPurchases } from '~~/server/services/purchasing/outgoing'
import { SendPurchase } from '~~/shared/purchasing/requests'
import { IdParam } from '~~/shared/primitives'

export default route('buy', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...letter } = input(SendPurchase, await readBody(event))
  const files = await heavy(event, actor, 'filesOfPurchase', id)
  return once(actor, key, (tx) => sendPurchases(tx, actor, key, [{ id, ...letter, files }]))
})
