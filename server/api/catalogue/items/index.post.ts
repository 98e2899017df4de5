import { createItem } from '~~/server/services/catalogue/items'
import { inTransaction } from '~~/server/services/company/command'
import { ItemEdit } from '~~/shared/catalogue'

export default route('catalogue', async (event, actor) => {
  const edit = input(ItemEdit, await readBody(event))
  return inTransaction((tx) => createItem(tx, actor, edit))
})
