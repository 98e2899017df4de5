import { once } from '~~/server/services/company/command'
import { acceptCutting } from '~~/server/services/workshop/cut-pieces'
import { AcceptCutting } from '~~/shared/cutting'
import { IdParam } from '~~/shared/primitives'

export default route('make', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(AcceptCutting, await readBody(event))
  return once(actor, key, (tx) => acceptCutting(tx, actor, id, edit))
})
