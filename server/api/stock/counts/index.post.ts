import { once } from '~~/server/database/transactions'
import { createCount } from '~~/server/services/stock/counts'
import { NewCount } from '~~/shared/stock/counts'

export default route('stock', async (event, actor) => {
  const { key, ...edit } = input(NewCount, await readBody(event))
  return once(actor, key, (tx) => createCount(tx, actor, edit))
})
