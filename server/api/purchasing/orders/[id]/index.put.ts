import { inTransaction } from '~~/server/database/transactions'
import { changePurchase } from '~~/server/services/purchasing/change-purchase'
import { ChangedPurchaseOrder } from '~~/shared/purchasing/requests'
import { IdParam } from '~~/shared/primitives'

export default route('buy', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(ChangedPurchaseOrder, await readBody(event))
  return inTransaction((tx) => changePurchase(tx, actor, id, edit))
})
