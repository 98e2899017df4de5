import { inTransaction } from '~~/server/database/transactions'
import { removeHook } from '~~/server/services/running/hooks'
import { IdParam } from '~~/shared/primitives'

export default route('people', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  return inTransaction((tx) => removeHook(tx, actor, id))
})
