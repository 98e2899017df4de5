import { loadBreakDown } from '~~/server/services/workshop/break-downs'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  return loadBreakDown(id, actor.today)
})
