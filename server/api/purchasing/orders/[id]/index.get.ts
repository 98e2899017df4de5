import { loadPurchase } from '~~/server/services/purchasing/load-purchase'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event) => {
  const { id } = input(IdParam, getRouterParams(event))
  return loadPurchase(id)
})
