import { inTransaction } from '~~/server/database/transactions'
import { cancelRun } from '~~/server/services/planning/runs'
import { IdParam } from '~~/shared/primitives'

export default route('plan', async (event) => {
  const { id } = input(IdParam, getRouterParams(event))
  return inTransaction((tx) => cancelRun(tx, id))
})
