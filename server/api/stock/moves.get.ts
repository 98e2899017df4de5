import { listMoves } from '~~/server/services/stock/move-queries'
import { StockQuery } from '~~/shared/stock/requests'

export default route('see', async (event) => {
  const query = input(StockQuery, getQuery(event))
  return listMoves(query)
})
