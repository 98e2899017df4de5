import { inTransaction } from '~~/server/database/transactions'
import { substitute } from '~~/server/services/workshop/build-lines'
import { SubstituteEdit } from '~~/shared/workshop/requests'
import { IdParam } from '~~/shared/primitives'

export default route('make', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(SubstituteEdit, await readBody(event))
  return inTransaction((tx) => substitute(tx, actor, id, edit))
})
