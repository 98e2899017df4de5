import { inTransaction } from '~~/server/database/transactions'
import { saveView } from '~~/server/services/company/saved-views'
import { NewView } from '~~/shared/lists'

export default route('see', async (event, actor) => {
  const view = input(NewView, await readBody(event))
  return inTransaction((tx) => saveView(tx, actor, view))
})
