import { listBalances } from '~~/server/services/stock/queries'
import { StockQuery } from '~~/shared/stock/requests'

export default route('see', async (event) => {
  const query = input(StockQuery, getQuery(event))
  return listBalances(query)
})
