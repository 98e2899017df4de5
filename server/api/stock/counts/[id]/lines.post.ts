import { inTransaction } from '~~/server/services/company/command'
import { addCountLine } from '~~/server/services/stock/counts'
import { IdParam } from '~~/shared/primitives'
import { AddCountLine } from '~~/shared/counts'

export default route('stock', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(AddCountLine, await readBody(event))
  return inTransaction((tx) => addCountLine(tx, actor, id, edit))
})
