import { inTransaction } from '~~/server/database/transactions'
import { endTransfer } from '~~/server/services/stock/transfers'
import { IdParam } from '~~/shared/primitives'
import { EndTransfer } from '~~/shared/stock/transfers'

export default route('stock', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { version } = input(EndTransfer, await readBody(event))
  return inTransaction((tx) => endTransfer(tx, actor, id, version))
})
