import { inTransaction } from '~~/server/database/transactions'
import { cancelCutting } from '~~/server/services/workshop/cutting'
import { IdParam } from '~~/shared/primitives'
import { CancelJob } from '~~/shared/workshop/requests'

export default route('make', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { version } = input(CancelJob, await readBody(event))
  return inTransaction((tx) => cancelCutting(tx, actor, id, version))
})
