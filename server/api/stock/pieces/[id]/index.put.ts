import { inTransaction } from '~~/server/database/transactions'
import { editPiece } from '~~/server/services/stock/pieces'
import { IdParam } from '~~/shared/primitives'
import { PieceEdit } from '~~/shared/stock/requests'

export default route('stock', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(PieceEdit, await readBody(event))
  return inTransaction((tx) => editPiece(tx, actor, id, edit))
})
