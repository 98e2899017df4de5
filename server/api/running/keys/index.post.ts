import { inTransaction } from '~~/server/database/transactions'
import { makeKey } from '~~/server/services/running/api-keys'
import { NewKey } from '~~/shared/running/requests'

export default route('people', async (event, actor) => {
  const wanted = input(NewKey, await readBody(event))
  return inTransaction((tx) => makeKey(tx, actor, wanted))
})
