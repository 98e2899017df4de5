import { takeBack } from '~~/server/services/catalogue/tables/batches'
import { inTransaction } from '~~/server/database/transactions'
import { BatchParam } from '~~/shared/catalogue/import'

export default route('catalogue', async (event, actor) => {
  const { id } = input(BatchParam, getRouterParams(event))
  return inTransaction((tx) => takeBack(tx, actor, id))
})
