import { once } from '~~/server/database/transactions'
import { reopenPurchase } from '~~/server/services/purchasing/end-purchase'
import { PurchaseAct } from '~~/shared/purchasing/requests'
import { IdParam } from '~~/shared/primitives'

export default route('buy', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...seen } = input(PurchaseAct, await readBody(event))
  return once(actor, key, (tx) => reopenPurchase(tx, actor, id, seen))
})
