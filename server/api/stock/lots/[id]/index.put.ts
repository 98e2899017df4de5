import { inTransaction } from '~~/server/database/transactions'
import { editLot } from '~~/server/services/stock/pieces'
import { IdParam } from '~~/shared/primitives'
import { LotEdit } from '~~/shared/stock/requests'

export default route('stock', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(LotEdit, await readBody(event))
  return inTransaction((tx) => editLot(tx, actor, id, edit))
})
