import { once } from '~~/server/services/company/command'
import { correct } from '~~/server/services/stock/correct'
import { Correction } from '~~/shared/stock'

export default route('stock', async (event, actor) => {
  const { key, ...edit } = input(Correction, await readBody(event))
  return once(actor, key, async (tx) => {
    const { postingId, revalued } = await correct(tx, actor, edit)
    return { postingId, revalued }
  })
})
