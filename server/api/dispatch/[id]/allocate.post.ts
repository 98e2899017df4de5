import { once } from '~~/server/database/transactions'
import { allocate, allocatePicks } from '~~/server/services/dispatch/dispatch'
import { Allocate } from '~~/shared/dispatch/requests'
import { IdParam } from '~~/shared/primitives'

export default route('ship', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(Allocate, await readBody(event))
  return once(actor, key, (tx) =>
    edit.picks.length > 0 ? allocatePicks(tx, actor, id, edit) : allocate(tx, actor, id, edit.version),
  )
})
