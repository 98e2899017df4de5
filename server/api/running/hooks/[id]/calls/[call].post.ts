import { inTransaction } from '~~/server/database/transactions'
import { callAgain } from '~~/server/services/running/hooks'
import { CallParams } from '~~/shared/running/requests'

export default route('people', async (event) => {
  const { id, call } = input(CallParams, getRouterParams(event))
  return inTransaction((tx) => callAgain(tx, id, call))
})
