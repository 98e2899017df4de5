import { inTransaction } from '~~/server/database/transactions'
import { closeShort } from '~~/server/services/purchasing/end-purchase'
import { CloseShort } from '~~/shared/purchasing/requests'
import { IdParam } from '~~/shared/primitives'

export default route('buy', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(CloseShort, await readBody(event))
  return inTransaction((tx) => closeShort(tx, actor, id, edit))
})
