import { inTransaction } from '~~/server/services/company/command'
import { enterCounts } from '~~/server/services/stock/enter-counts'
import { IdParam } from '~~/shared/primitives'
import { EnterCounts } from '~~/shared/counts'

export default route('stock', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(EnterCounts, await readBody(event))
  return inTransaction((tx) => enterCounts(tx, actor, id, edit))
})
