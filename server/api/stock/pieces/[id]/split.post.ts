import { once } from '~~/server/database/transactions'
import { splitPiece } from '~~/server/services/stock/pieces'
import { IdParam } from '~~/shared/primitives'
import { SplitPiece } from '~~/shared/stock/requests'

export default route('stock', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(SplitPiece, await readBody(event))
  return once(actor, key, async (tx) => {
    const { postingId, labels } = await splitPiece(tx, actor, id, edit)
    return { postingId, labels }
  })
})
