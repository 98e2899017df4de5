import { inTransaction } from '~~/server/services/company/command'
import { adoptPlan } from '~~/server/services/planning/plans'
import { IdParam } from '~~/shared/primitives'

export default route('plan', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  return inTransaction(tx => adoptPlan(tx, actor, id))
})
