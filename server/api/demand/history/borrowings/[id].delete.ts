import { inTransaction } from '~~/server/database/transactions'
import { endBorrowing } from '~~/server/services/demand/history'
import { IdParam } from '~~/shared/primitives'

export default route('demand', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  return inTransaction((tx) => endBorrowing(tx, actor, id))
})
