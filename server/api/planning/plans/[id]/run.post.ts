import { inTransaction } from '~~/server/database/transactions'
import { askRun, soon } from '~~/server/services/planning/runs'
import { IdParam } from '~~/shared/primitives'

export default route('plan', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  await inTransaction((tx) => askRun(tx, actor, id))
  return { id, ...(await soon(id)) }
})
