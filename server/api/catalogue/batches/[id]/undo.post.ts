import { takeBack } from '~~/server/services/catalogue/tables/batches'
import { inTransaction } from '~~/server/services/company/command'
import { BatchParam } from '~~/shared/import'

export default route('catalogue', async (event, actor) => {
  const { id } = input(BatchParam, getRouterParams(event))
  return inTransaction((tx) => takeBack(tx, actor, id))
})
