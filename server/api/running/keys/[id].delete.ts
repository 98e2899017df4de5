import { inTransaction } from '~~/server/database/transactions'
import { endKey } from '~~/server/services/running/api-keys'
import { IdParam } from '~~/shared/primitives'

export default route('people', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  return inTransaction((tx) => endKey(tx, actor, id))
})
