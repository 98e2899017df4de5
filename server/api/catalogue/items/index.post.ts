import { createItem } from '~~/server/services/catalogue/items'
import { inTransaction } from '~~/server/database/transactions'
import { ItemEdit } from '~~/shared/catalogue/item'

export default route('catalogue', async (event, actor) => {
  const edit = input(ItemEdit, await readBody(event))
  return inTransaction((tx) => createItem(tx, actor, edit))
})
