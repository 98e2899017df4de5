import { once } from '~~/server/database/transactions'
import { deallocate } from '~~/server/services/dispatch/dispatch'
import { Allocate } from '~~/shared/dispatch/requests'
import { IdParam } from '~~/shared/primitives'

export default route('ship', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(Allocate, await readBody(event))
  return once(actor, key, (tx) => deallocate(tx, actor, id, edit.version))
})
