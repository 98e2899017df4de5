import { inTransaction } from '~~/server/database/transactions'
import { removeView } from '~~/server/services/company/saved-views'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  return inTransaction((tx) => removeView(tx, actor, id))
})
