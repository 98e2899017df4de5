import { inTransaction } from '~~/server/services/company/command'
import { endTransfer } from '~~/server/services/stock/transfers'
import { IdParam } from '~~/shared/primitives'
import { EndTransfer } from '~~/shared/transfers'

export default route('stock', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { version } = input(EndTransfer, await readBody(event))
  return inTransaction((tx) => endTransfer(tx, actor, id, version))
})
