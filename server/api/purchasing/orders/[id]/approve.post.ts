import { once } from '~~/server/database/transactions'
import { approvePurchase } from '~~/server/services/purchasing/approve'
import { PurchaseAct } from '~~/shared/purchasing/requests'
import { IdParam } from '~~/shared/primitives'

export default route('approve', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...seen } = input(PurchaseAct, await readBody(event))
  return once(actor, key, (tx) => approvePurchase(tx, actor, id, seen))
})
