import { inTransaction } from '~~/server/database/transactions'
import { adoptPlan } from '~~/server/services/planning/plans'
import { askRun, soon } from '~~/server/services/planning/runs'
import { IdParam } from '~~/shared/primitives'

export default route('plan', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { dropped } = await inTransaction((tx) => adoptPlan(tx, actor, id, askRun))
  return { id, dropped, ...(await soon(id)) }
})
