import { once } from '~~/server/database/transactions'
import { createPlan } from '~~/server/services/inspection/plans'
import { NewInspectionPlan } from '~~/shared/inspection/requests'

export default route('catalogue', async (event, actor) => {
  const { key, ...edit } = input(NewInspectionPlan, await readBody(event))
  return once(actor, key, (tx) => createPlan(tx, actor, edit))
})
