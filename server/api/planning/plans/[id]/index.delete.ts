import { inTransaction } from '~~/server/services/company/command'
import { deletePlan } from '~~/server/services/planning/plans'
import { IdParam } from '~~/shared/primitives'

export default route('plan', async (event) => {
  const { id } = input(IdParam, getRouterParams(event))
  return inTransaction((tx) => deletePlan(tx, id))
})
