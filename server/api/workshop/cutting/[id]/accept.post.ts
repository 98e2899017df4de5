import { once } from '~~/server/database/transactions'
import { acceptCutting } from '~~/server/services/workshop/cut-pieces'
import { AcceptCutting } from '~~/shared/workshop/cutting'
import { IdParam } from '~~/shared/primitives'

export default route('make', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(AcceptCutting, await readBody(event))
  return once(actor, key, (tx) => acceptCutting(tx, actor, id, edit))
})
