import { once } from '~~/server/database/transactions'
import { cancelRequest } from '~~/server/services/purchasing/quotations/requests'
import { IdParam } from '~~/shared/primitives'
import { CancelRequest } from '~~/shared/purchasing/quotations'

export default route('buy', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, version } = input(CancelRequest, await readBody(event))
  return once(actor, key, (tx) => cancelRequest(tx, actor, id, version))
})
