import { inTransaction } from '~~/server/services/company/command'
import { editCutting } from '~~/server/services/workshop/cutting'
import { CuttingEdit } from '~~/shared/cutting'
import { IdParam } from '~~/shared/primitives'

export default route('make', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(CuttingEdit, await readBody(event))
  return inTransaction((tx) => editCutting(tx, actor, id, edit))
})
