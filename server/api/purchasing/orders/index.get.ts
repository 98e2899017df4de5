import { listPurchases } from '~~/server/services/purchasing/orders'
import { OrderQuery } from '~~/shared/demand'

export default route('see', async (event) => {
  const query = input(OrderQuery, getQuery(event))
  return listPurchases(query)
})
