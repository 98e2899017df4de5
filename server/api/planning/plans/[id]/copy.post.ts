import { once } from '~~/server/database/transactions'
import { copyPlan } from '~~/server/services/planning/plans'
import { askRun, soon } from '~~/server/services/planning/runs'
import { PlanCopy } from '~~/shared/planning/requests'
import { IdParam } from '~~/shared/primitives'

export default route('plan', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, name } = input(PlanCopy, await readBody(event))
  const done = await once(actor, key, (tx) => copyPlan(tx, actor, id, name, askRun))
  return { ...done, ...(await soon(done.id)) }
})
