import { once } from '~~/server/database/transactions'
import { takeQuotations } from '~~/server/services/purchasing/quotations/take-quotations'
import { IdParam } from '~~/shared/primitives'
import { TakeQuotations } from '~~/shared/purchasing/quotations'

export default route('buy', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(TakeQuotations, await readBody(event))
  return once(actor, key, (tx) => takeQuotations(tx, actor, id, edit))
})
