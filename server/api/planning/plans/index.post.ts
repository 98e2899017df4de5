import { inTransaction } from '~~/server/services/company/command'
import { createPlan } from '~~/server/services/planning/plans'
import { NewPlan } from '~~/shared/planning'

export default route('plan', async (event, actor) => {
  const edit = input(NewPlan, await readBody(event))
  return inTransaction(tx => createPlan(tx, actor, edit))
})
