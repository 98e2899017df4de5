import { inTransaction } from '~~/server/database/transactions'
import { makeReady } from '~~/server/services/workshop/allocate-build'
import { ReadyBuild } from '~~/shared/workshop/requests'
import { IdParam } from '~~/shared/primitives'

export default route('make', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(ReadyBuild, await readBody(event))
  return inTransaction((tx) => makeReady(tx, actor, id, edit))
})
