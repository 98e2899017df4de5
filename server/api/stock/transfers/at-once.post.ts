import { once } from '~~/server/services/company/command'
import { transferAtOnce } from '~~/server/services/stock/transfers'
import { TransferAtOnce } from '~~/shared/transfers'

export default route('stock', async (event, actor) => {
  const { key, ...edit } = input(TransferAtOnce, await readBody(event))
  return once(actor, key, (tx) => transferAtOnce(tx, actor, edit))
})
