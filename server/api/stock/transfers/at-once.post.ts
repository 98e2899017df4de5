import { once } from '~~/server/database/transactions'
import { transferAtOnce } from '~~/server/services/stock/transfers'
import { TransferAtOnce } from '~~/shared/stock/transfers'

export default route('stock', async (event, actor) => {
  const { key, ...edit } = input(TransferAtOnce, await readBody(event))
  return once(actor, key, (tx) => transferAtOnce(tx, actor, edit))
})
