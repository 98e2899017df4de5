import { inTransaction } from '~~/server/database/transactions'
import { deletePlan } from '~~/server/services/planning/plans'
import { IdParam } from '~~/shared/primitives'

export default route('plan', async (event) => {
  const { id } = input(IdParam, getRouterParams(event))
  return inTransaction((tx) => deletePlan(tx, id))
})
