import { listBySite } from '~~/server/services/stock/site-stock'
import { SiteQuery } from '~~/shared/stock/requests'

export default route('see', async (event) => {
  const query = input(SiteQuery, getQuery(event))
  return listBySite(query)
})
