import { undoChange } from '~~/server/services/catalogue/changes'
import { inTransaction } from '~~/server/database/transactions'
import { IdParam } from '~~/shared/primitives'

export default route('catalogue', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  return inTransaction((tx) => undoChange(tx, actor, id))
})
