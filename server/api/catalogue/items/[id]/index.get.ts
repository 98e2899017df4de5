import { loadItem } from '~~/server/services/catalogue/items'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event) => {
  const { id } = input(IdParam, getRouterParams(event))
  return loadItem(id)
})
