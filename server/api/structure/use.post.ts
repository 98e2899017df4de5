import { inTransaction } from '~~/server/database/transactions'
import { useDrafts } from '~~/server/services/structure/bills'
import { UseDrafts } from '~~/shared/structure/requests'

export default route('catalogue', async (event, actor) => {
  const { bills, fromOn } = input(UseDrafts, await readBody(event))
  return inTransaction((tx) => useDrafts(tx, actor, bills, fromOn))
})
