import { inTransaction } from '~~/server/database/transactions'
import { retirePlan } from '~~/server/services/inspection/plans'
import { RetireInspectionPlan } from '~~/shared/inspection/requests'
import { IdParam } from '~~/shared/primitives'

export default route('catalogue', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(RetireInspectionPlan, await readBody(event))
  return inTransaction((tx) => retirePlan(tx, actor, id, edit))
})
