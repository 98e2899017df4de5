import { inTransaction } from '~~/server/database/transactions'
import { recordResults } from '~~/server/services/inspection/record-results'
import { InspectionResults } from '~~/shared/inspection/requests'
import { IdParam } from '~~/shared/primitives'

export default route('inspect', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(InspectionResults, await readBody(event))
  return inTransaction((tx) => recordResults(tx, actor, id, edit))
})
