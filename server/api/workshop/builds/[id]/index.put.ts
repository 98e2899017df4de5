import { inTransaction } from '~~/server/services/company/command'
import { editBuild } from '~~/server/services/workshop/builds'
import { BuildEdit } from '~~/shared/workshop'
import { IdParam } from '~~/shared/primitives'

export default route('make', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(BuildEdit, await readBody(event))
  return inTransaction((tx) => editBuild(tx, actor, id, edit))
})
