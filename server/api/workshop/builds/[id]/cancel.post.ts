import { inTransaction } from '~~/server/database/transactions'
import { cancelBuild } from '~~/server/services/workshop/builds'
import { CancelJob } from '~~/shared/workshop/requests'
import { IdParam } from '~~/shared/primitives'

export default route('make', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(CancelJob, await readBody(event))
  return inTransaction((tx) => cancelBuild(tx, actor, id, edit.version))
})
