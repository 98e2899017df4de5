import { once } from '~~/server/services/company/command'
import { completeBuild } from '~~/server/services/workshop/builds'
import { CompleteBuild } from '~~/shared/workshop'
import { IdParam } from '~~/shared/primitives'

export default route('make', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(CompleteBuild, await readBody(event))
  return once(actor, key, tx => completeBuild(tx, actor, id, edit))
})
