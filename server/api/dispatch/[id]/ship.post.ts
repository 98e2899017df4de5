import { once } from '~~/server/database/transactions'
import { ship } from '~~/server/services/dispatch/ship'
import { Ship } from '~~/shared/dispatch/requests'
import { IdParam } from '~~/shared/primitives'

export default route('ship', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(Ship, await readBody(event))
  return once(actor, key, (tx) => ship(tx, actor, id, edit.version))
})
