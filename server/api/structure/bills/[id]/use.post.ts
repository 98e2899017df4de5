import { inTransaction } from '~~/server/database/transactions'
import { useBill } from '~~/server/services/structure/bills'
import { IdParam } from '~~/shared/primitives'
import { UseBill } from '~~/shared/structure/requests'

export default route('catalogue', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const use = input(UseBill, await readBody(event))
  return inTransaction((tx) => useBill(tx, actor, id, use))
})
