import { inTransaction } from '~~/server/services/company/command'
import { closeShort } from '~~/server/services/purchasing/orders'
import { CloseShort } from '~~/shared/purchasing'
import { IdParam } from '~~/shared/primitives'

export default route('buy', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(CloseShort, await readBody(event))
  return inTransaction((tx) => closeShort(tx, actor, id, edit))
})
