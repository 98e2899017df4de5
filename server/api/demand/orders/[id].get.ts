import { loadOrder } from '~~/server/services/demand/orders'
import { IdParam } from '~~/shared/primitives'

export default route('see', async event => {
  const { id } = input(IdParam, getRouterParams(event))
  return loadOrder(id)
})
