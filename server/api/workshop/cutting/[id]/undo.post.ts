import { once } from '~~/server/database/transactions'
import { undoCutting } from '~~/server/services/workshop/cut-pieces'
import { IdParam } from '~~/shared/primitives'
import { UndoBuild } from '~~/shared/workshop/requests'

export default route('make', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, version } = input(UndoBuild, await readBody(event))
  return once(actor, key, (tx) => undoCutting(tx, actor, id, version))
})
