import { once } from '~~/server/services/company/command'
import { createTransfer } from '~~/server/services/stock/transfers'
import { NewTransfer } from '~~/shared/transfers'

export default route('stock', async (event, actor) => {
  const { key, ...edit } = input(NewTransfer, await readBody(event))
  return once(actor, key, (tx) => createTransfer(tx, actor, edit))
})
