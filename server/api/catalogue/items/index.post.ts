import { inTransaction } from '~~/server/services/company/command'
import { createItem } from '~~/server/services/catalogue/items'
import { NewItem } from '~~/shared/catalogue'

export default route('catalogue', async (event, actor) => {
  const edit = input(NewItem, await readBody(event))
  return inTransaction(tx => createItem(tx, actor, edit))
})
