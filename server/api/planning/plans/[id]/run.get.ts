import { readRun } from '~~/server/services/planning/runs'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event) => {
  const { id } = input(IdParam, getRouterParams(event))
  return readRun(id)
})
