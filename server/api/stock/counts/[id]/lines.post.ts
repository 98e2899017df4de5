import { inTransaction } from '~~/server/database/transactions'
import { addCountLine } from '~~/server/services/stock/counts'
import { IdParam } from '~~/shared/primitives'
import { AddCountLine } from '~~/shared/stock/counts'

export default route('stock', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(AddCountLine, await readBody(event))
  return inTransaction((tx) => addCountLine(tx, actor, id, edit))
})
