import { listOrders } from '~~/server/services/demand/order-queries'
import { OrderQuery } from '~~/shared/demand/requests'

export default route('see', async (event) => {
  const query = input(OrderQuery, getQuery(event))
  return listOrders(query)
})
