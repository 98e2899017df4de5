import { inTransaction } from '~~/server/database/transactions'
import { changeHook } from '~~/server/services/running/hooks'
import { IdParam } from '~~/shared/primitives'
import { HookEdit } from '~~/shared/running/requests'

export default route('people', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(HookEdit, await readBody(event))
  return inTransaction((tx) => changeHook(tx, actor, id, edit))
})
