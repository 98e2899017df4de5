import { once } from '~~/server/database/transactions'
import { deliverDirect } from '~~/server/services/purchasing/deliver-direct'
import { IdParam } from '~~/shared/primitives'
import { DeliverDirect } from '~~/shared/purchasing/requests'

export default route('receive', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(DeliverDirect, await readBody(event))
  return once(actor, key, (tx) => deliverDirect(tx, actor, id, edit))
})
