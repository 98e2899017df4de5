import { kitToUnpack } from '~~/server/services/workshop/unpack'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  return kitToUnpack(id, actor.today)
})
