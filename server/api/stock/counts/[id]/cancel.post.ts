import { inTransaction } from '~~/server/database/transactions'
import { cancelCount } from '~~/server/services/stock/counts'
import { IdParam } from '~~/shared/primitives'
import { EndCount } from '~~/shared/stock/counts'

export default route('stock', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { version } = input(EndCount, await readBody(event))
  return inTransaction((tx) => cancelCount(tx, actor, id, version))
})
