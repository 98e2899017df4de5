import { readPlan } from '~~/server/services/planning/read-plan'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  return readPlan(id, actor.today)
})
