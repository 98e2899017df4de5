import { once } from '~~/server/database/transactions'
import { requireReversal, reverse } from '~~/server/ledger/reverse'
import { IdParam } from '~~/shared/primitives'
import { Reverse } from '~~/shared/stock/requests'

export default route('see', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key } = input(Reverse, await readBody(event))
  await requireReversal(actor, id)
  return once(actor, key, (tx) => reverse(tx, actor, id))
})
