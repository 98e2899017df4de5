import { once } from '~~/server/database/transactions'
import { creditReturn } from '~~/server/services/purchasing/settle-return'
import { IdParam } from '~~/shared/primitives'
import { NewReturnCredit } from '~~/shared/purchasing/requests'

export default route('books', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(NewReturnCredit, await readBody(event))
  return once(actor, key, (tx) => creditReturn(tx, actor, id, edit))
})
