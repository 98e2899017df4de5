import { inTransaction } from '~~/server/database/transactions'
import { createPlan } from '~~/server/services/planning/plans'
import { askRun, soon } from '~~/server/services/planning/runs'
import { NewPlan } from '~~/shared/planning/requests'

export default route('plan', async (event, actor) => {
  const edit = input(NewPlan, await readBody(event))
  const made = await inTransaction((tx) => createPlan(tx, actor, edit, askRun))
  await soon(made.id)
  return made
})
