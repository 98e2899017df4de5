import { kitToUnkit } from '~~/server/services/workshop/unkit'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  return kitToUnkit(id, actor.today)
})
