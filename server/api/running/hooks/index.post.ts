import { inTransaction } from '~~/server/database/transactions'
import { makeHook } from '~~/server/services/running/hooks'
import { NewHook } from '~~/shared/running/requests'

export default route('people', async (event, actor) => {
  const hook = input(NewHook, await readBody(event))
  return inTransaction((tx) => makeHook(tx, actor, hook))
})
