import { inTransaction } from '~~/server/database/transactions'
import { editBuild } from '~~/server/services/workshop/builds'
import { BuildEdit } from '~~/shared/workshop/requests'
import { IdParam } from '~~/shared/primitives'

export default route('make', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(BuildEdit, await readBody(event))
  return inTransaction((tx) => editBuild(tx, actor, id, edit))
})
