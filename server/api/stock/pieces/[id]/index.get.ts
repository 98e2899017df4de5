import { loadPiece } from '~~/server/services/stock/detail'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event) => {
  const { id } = input(IdParam, getRouterParams(event))
  return loadPiece(id)
})
