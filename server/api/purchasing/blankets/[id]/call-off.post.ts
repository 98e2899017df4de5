import { once } from '~~/server/database/transactions'
import { callOff } from '~~/server/services/purchasing/blankets/call-off'
import { IdParam } from '~~/shared/primitives'
import { CallOff } from '~~/shared/purchasing/blankets'

export default route('buy', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(CallOff, await readBody(event))
  return once(actor, key, (tx) => callOff(tx, actor, id, edit))
})
