import { inTransaction } from '~~/server/database/transactions'
import { changePlan } from '~~/server/services/inspection/plans'
import { ChangedInspectionPlan } from '~~/shared/inspection/requests'
import { IdParam } from '~~/shared/primitives'

export default route('catalogue', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(ChangedInspectionPlan, await readBody(event))
  return inTransaction((tx) => changePlan(tx, actor, id, edit))
})
