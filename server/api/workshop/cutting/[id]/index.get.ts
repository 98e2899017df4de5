import { loadCutting } from '~~/server/services/workshop/cutting'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event) => {
  const { id } = input(IdParam, getRouterParams(event))
  return loadCutting(id)
})
