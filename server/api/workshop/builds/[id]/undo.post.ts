import { once } from '~~/server/database/transactions'
import { undoBuild } from '~~/server/services/workshop/close-build'
import { UndoBuild } from '~~/shared/workshop/requests'
import { IdParam } from '~~/shared/primitives'

export default route('make', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(UndoBuild, await readBody(event))
  return once(actor, key, (tx) => undoBuild(tx, actor, id, edit.version))
})
