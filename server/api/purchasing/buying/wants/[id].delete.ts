import { inTransaction } from '~~/server/database/transactions'
import { dropWant } from '~~/server/services/purchasing/buying/wants'
import { IdParam } from '~~/shared/primitives'

export default route('buy', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  return inTransaction((tx) => dropWant(tx, actor, id))
})
