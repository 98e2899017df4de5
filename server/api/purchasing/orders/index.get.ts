import { listPurchases } from '~~/server/services/purchasing/list-purchases'
import { PurchaseQuery } from '~~/shared/purchasing/requests'

export default route('see', async (event) => {
  const query = input(PurchaseQuery, getQuery(event))
  return listPurchases(query)
})
