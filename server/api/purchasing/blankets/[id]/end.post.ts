import { once } from '~~/server/database/transactions'
import { endBlanket } from '~~/server/services/purchasing/blankets/create-blanket'
import { IdParam } from '~~/shared/primitives'
import { EndBlanket } from '~~/shared/purchasing/blankets'

export default route('buy', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, version } = input(EndBlanket, await readBody(event))
  return once(actor, key, (tx) => endBlanket(tx, actor, id, version))
})
