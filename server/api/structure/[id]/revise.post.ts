import { inTransaction } from '~~/server/database/transactions'
import { revise } from '~~/server/services/structure/bills'
import { IdParam } from '~~/shared/primitives'
import { Revise } from '~~/shared/structure/requests'

export default route('catalogue', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { from } = input(Revise, (await readBody(event)) ?? {})
  return inTransaction((tx) => revise(tx, actor, id, from))
})
