import { once } from '~~/server/database/transactions'
import { replaceReturn } from '~~/server/services/purchasing/settle-return'
import { IdParam } from '~~/shared/primitives'
import { ReturnAct } from '~~/shared/purchasing/requests'

export default route('books', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key } = input(ReturnAct, await readBody(event))
  return once(actor, key, (tx) => replaceReturn(tx, actor, id))
})
