import { inTransaction } from '~~/server/database/transactions'
import { editCutting } from '~~/server/services/workshop/cutting'
import { CuttingEdit } from '~~/shared/workshop/cutting'
import { IdParam } from '~~/shared/primitives'

export default route('make', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(CuttingEdit, await readBody(event))
  return inTransaction((tx) => editCutting(tx, actor, id, edit))
})
