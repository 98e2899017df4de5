import { inTransaction } from '~~/server/database/transactions'
import { cancelBreakDown } from '~~/server/services/workshop/break-downs'
import { CancelJob } from '~~/shared/workshop/requests'
import { IdParam } from '~~/shared/primitives'

export default route('make', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(CancelJob, await readBody(event))
  return inTransaction((tx) => cancelBreakDown(tx, actor, id, edit.version))
})
