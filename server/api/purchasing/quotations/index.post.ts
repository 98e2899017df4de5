import { once } from '~~/server/database/transactions'
import { createRequest } from '~~/server/services/purchasing/quotations/requests'
import { NewQuotationRequest } from '~~/shared/purchasing/quotations'

export default route('buy', async (event, actor) => {
  const { key, ...edit } = input(NewQuotationRequest, await readBody(event))
  return once(actor, key, (tx) => createRequest(tx, actor, edit))
})
