import { once } from '~~/server/database/transactions'
import { confirmPurchase } from '~~/server/services/purchasing/confirm-purchase'
import { ConfirmPurchase } from '~~/shared/purchasing/requests'
import { IdParam } from '~~/shared/primitives'

export default route('buy', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(ConfirmPurchase, await readBody(event))
  return once(actor, key, (tx) => confirmPurchase(tx, actor, id, edit))
})
