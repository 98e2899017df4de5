import { once } from '~~/server/services/company/command'
import { approveCount } from '~~/server/services/stock/counts'
import { IdParam } from '~~/shared/primitives'
import { ApproveCount } from '~~/shared/counts'

export default route('stock', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(ApproveCount, await readBody(event))
  return once(actor, key, (tx) => approveCount(tx, actor, id, edit))
})
