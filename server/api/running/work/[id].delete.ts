import { inTransaction } from '~~/server/database/transactions'
import { workStopped } from '~~/server/services/running/work'
import { WorkId } from '~~/shared/running/requests'

export default route('people', async (event) => {
  const { id } = input(WorkId, getRouterParams(event))
  return inTransaction((tx) => workStopped(tx, id))
})
