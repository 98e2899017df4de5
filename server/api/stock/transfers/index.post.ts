import { once } from '~~/server/database/transactions'
import { createTransfer } from '~~/server/services/stock/transfers'
import { NewTransfer } from '~~/shared/stock/transfers'

export default route('stock', async (event, actor) => {
  const { key, ...edit } = input(NewTransfer, await readBody(event))
  return once(actor, key, (tx) => createTransfer(tx, actor, edit))
})
