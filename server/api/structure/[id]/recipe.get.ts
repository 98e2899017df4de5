import { loadRecipe } from '~~/server/services/structure/boms'
import { IdParam } from '~~/shared/primitives'

export default route('see', async event => {
  const { id } = input(IdParam, getRouterParams(event))
  return loadRecipe(id)
})
