import { once } from '~~/server/database/transactions'
import { cancelInvoice } from '~~/server/services/purchasing/cancel-invoice'
import { IdParam } from '~~/shared/primitives'
import { CancelInvoice } from '~~/shared/purchasing/requests'

export default route('books', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key } = input(CancelInvoice, await readBody(event))
  return once(actor, key, (tx) => cancelInvoice(tx, actor, id))
})
