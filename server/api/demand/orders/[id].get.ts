import { loadOrder } from '~~/server/services/demand/order-queries'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  return loadOrder(id, actor.today)
})
