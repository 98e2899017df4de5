import { once } from '~~/server/database/transactions'
import { closeBuild } from '~~/server/services/workshop/close-build'
import { CloseBuild } from '~~/shared/workshop/requests'
import { IdParam } from '~~/shared/primitives'

export default route('make', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(CloseBuild, await readBody(event))
  return once(actor, key, (tx) => closeBuild(tx, actor, id, edit.version))
})
