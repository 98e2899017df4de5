import { once } from '~~/server/database/transactions'
import { moveStock } from '~~/server/services/stock/correct'
import { MoveStock } from '~~/shared/stock/requests'

export default route('stock', async (event, actor) => {
  const { key, ...edit } = input(MoveStock, await readBody(event))
  return once(actor, key, async (tx) => {
    const { postingId, revalued } = await moveStock(tx, actor, edit)
    return { postingId, revalued }
  })
})
