import { loadBuild } from '~~/server/services/workshop/read-build'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  return loadBuild(id, actor.today)
})
