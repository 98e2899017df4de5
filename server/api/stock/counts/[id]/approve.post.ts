import { once } from '~~/server/database/transactions'
import { approveCount } from '~~/server/services/stock/counts'
import { IdParam } from '~~/shared/primitives'
import { ApproveCount } from '~~/shared/stock/counts'

export default route('stock', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(ApproveCount, await readBody(event))
  return once(actor, key, (tx) => approveCount(tx, actor, id, edit))
})
