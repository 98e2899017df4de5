import { once } from '~~/server/services/company/command'
import { moveStock } from '~~/server/services/stock/correct'
import { MoveStock } from '~~/shared/stock'

export default route('stock', async (event, actor) => {
  const { key, ...edit } = input(MoveStock, await readBody(event))
  return once(actor, key, async (tx) => {
    const { postingId, revalued } = await moveStock(tx, actor, edit)
    return { postingId, revalued }
  })
})
