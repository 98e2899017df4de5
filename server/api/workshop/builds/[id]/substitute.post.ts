import { inTransaction } from '~~/server/services/company/command'
import { substitute } from '~~/server/services/workshop/build-lines'
import { SubstituteEdit } from '~~/shared/workshop'
import { IdParam } from '~~/shared/primitives'

export default route('make', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(SubstituteEdit, await readBody(event))
  return inTransaction((tx) => substitute(tx, actor, id, edit))
})
