import { once } from '~~/server/database/transactions'
import { editPlan } from '~~/server/services/planning/plans'
import { askRun, soon } from '~~/server/services/planning/runs'
import { PlanEdit } from '~~/shared/planning/requests'
import { IdParam } from '~~/shared/primitives'

export default route('plan', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(PlanEdit, await readBody(event))
  const done = await once(actor, key, (tx) => editPlan(tx, actor, id, edit, askRun))
  return { ...done, ...(await soon(id)) }
})
