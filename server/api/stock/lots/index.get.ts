import { listLots } from '~~/server/services/stock/lot-queries'
import { LotQuery } from '~~/shared/stock/requests'

export default route('see', async (event) => {
  const query = input(LotQuery, getQuery(event))
  return listLots(query)
})
