import { once } from '~~/server/database/transactions'
import { receive } from '~~/server/services/purchasing/goods-in'
import { Receive } from '~~/shared/purchasing/requests'
import { IdParam } from '~~/shared/primitives'

export default route('receive', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(Receive, await readBody(event))
  return once(actor, key, (tx) => receive(tx, actor, id, edit))
})
