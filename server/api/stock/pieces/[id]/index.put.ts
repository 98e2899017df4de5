import { inTransaction } from '~~/server/services/company/command'
import { editPiece } from '~~/server/services/stock/pieces'
import { IdParam } from '~~/shared/primitives'
import { PieceEdit } from '~~/shared/stock'

export default route('stock', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(PieceEdit, await readBody(event))
  return inTransaction((tx) => editPiece(tx, actor, id, edit))
})
