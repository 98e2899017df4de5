import { inTransaction } from '~~/server/database/transactions'
import { freeAgain } from '~~/server/services/workshop/allocate-build'
import { CancelJob } from '~~/shared/workshop/requests'
import { IdParam } from '~~/shared/primitives'

export default route('make', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(CancelJob, await readBody(event))
  return inTransaction((tx) => freeAgain(tx, actor, id, edit.version))
})
