import { once } from '~~/server/database/transactions'
import { correct } from '~~/server/services/stock/correct'
import { Correction } from '~~/shared/stock/requests'

export default route('stock', async (event, actor) => {
  const { key, ...edit } = input(Correction, await readBody(event))
  return once(actor, key, async (tx) => {
    const { postingId, revalued } = await correct(tx, actor, edit)
    return { postingId, revalued }
  })
})
