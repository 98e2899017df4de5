import { once } from '~~/server/services/company/command'
import { undoBuild } from '~~/server/services/workshop/close-build'
import { UndoBuild } from '~~/shared/workshop'
import { IdParam } from '~~/shared/primitives'

export default route('make', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(UndoBuild, await readBody(event))
  return once(actor, key, (tx) => undoBuild(tx, actor, id, edit.version))
})
