import { listPurchases } from '~~/server/services/purchasing/list-purchases'
import { OrderQuery } from '~~/shared/demand/requests'

export default route('see', async (event) => {
  const query = input(OrderQuery, getQuery(event))
  return listPurchases(query)
})
