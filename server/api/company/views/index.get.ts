import { loadViews } from '~~/server/services/company/saved-views'
import { ViewsQuery } from '~~/shared/lists'

export default route('see', async (event, actor) => {
  const { list } = input(ViewsQuery, getQuery(event))
  return loadViews(actor, list)
})
