import { suggestBins } from '~~/server/services/stock/detail'
import { PutAwayQuery } from '~~/shared/stock/requests'

export default route('see', async (event) => {
  const { items, site } = input(PutAwayQuery, getQuery(event))
  return suggestBins(items, site)
})
