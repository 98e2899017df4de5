import { readSnapshot } from '~~/server/services/planning/read-plan'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event) => {
  const { id } = input(IdParam, getRouterParams(event))
  return readSnapshot(id)
})
