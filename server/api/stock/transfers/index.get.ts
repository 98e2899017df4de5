import { listTransfers } from '~~/server/services/stock/transfer-queries'
import { Page } from '~~/shared/primitives'

export default route('see', async (event, actor) => {
  const query = input(Page, getQuery(event))
  return listTransfers(query, actor.today)
})
