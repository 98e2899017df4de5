import { readSnapshot } from '~~/server/services/planning/read-plan'
import { IdParam } from '~~/shared/primitives'

export default route('costs', async (event) => {
  const { id } = input(IdParam, getRouterParams(event))
  const text = await readSnapshot(id)
  setResponseHeader(event, 'content-type', 'application/json')
  return text
})
