import { once } from '~~/server/database/transactions'
import { recordInvoice } from '~~/server/services/purchasing/invoices'
import { IdParam } from '~~/shared/primitives'
import { NewInvoice } from '~~/shared/purchasing/requests'

export default route('books', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(NewInvoice, await readBody(event))
  return once(actor, key, (tx) => recordInvoice(tx, actor, id, edit))
})
