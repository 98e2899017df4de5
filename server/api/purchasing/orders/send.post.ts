import { once } from '~~/server/database/transactions'
import { heavy } from '~~/server/heavy'
import { proposedLetter, sendPurchases, type Outgoing } from '~~/server/services/purchasing/outgoing'
import { SendPurchases } from '~~/shared/purchasing/requests'

export default route('buy', async (event, actor) => {
  const { key, orders } = input(SendPurchases, await readBody(event))
  const outgoing: Outgoing[] = []
  for (const { id, version } of orders) {
    const files = await heavy(event, actor, 'filesOfPurchase', id)
    outgoing.push({ id, version, ...(await proposedLetter(id)), files })
  }
  return once(actor, key, (tx) => sendPurchases(tx, actor, key, outgoing))
})
