import { inTransaction } from '~~/server/database/transactions'
import { enterCounts } from '~~/server/services/stock/enter-counts'
import { IdParam } from '~~/shared/primitives'
import { EnterCounts } from '~~/shared/stock/counts'

export default route('stock', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(EnterCounts, await readBody(event))
  return inTransaction((tx) => enterCounts(tx, actor, id, edit))
})
