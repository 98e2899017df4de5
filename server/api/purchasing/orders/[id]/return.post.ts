import { once } from '~~/server/database/transactions'
import { recordReturn } from '~~/server/services/purchasing/returns'
import { IdParam } from '~~/shared/primitives'
import { NewReturn } from '~~/shared/purchasing/requests'

export default route('receive', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(NewReturn, await readBody(event))
  return once(actor, key, (tx) => recordReturn(tx, actor, id, edit))
})
