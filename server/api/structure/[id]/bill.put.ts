import { inTransaction } from '~~/server/services/company/command'
import { saveBom } from '~~/server/services/structure/boms'
import { BomEdit } from '~~/shared/structure'
import { IdParam } from '~~/shared/primitives'

export default route('catalogue', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(BomEdit, await readBody(event))
  return inTransaction(tx => saveBom(tx, actor, id, edit))
})
