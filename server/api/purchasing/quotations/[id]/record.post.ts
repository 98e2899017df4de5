import { once } from '~~/server/database/transactions'
import { recordQuotation } from '~~/server/services/purchasing/quotations/record-quotation'
import { IdParam } from '~~/shared/primitives'
import { RecordQuotation } from '~~/shared/purchasing/quotations'

export default route('buy', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(RecordQuotation, await readBody(event))
  return once(actor, key, (tx) => recordQuotation(tx, actor, id, edit))
})
