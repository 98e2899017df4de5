import { changeItem, loadItem } from '~~/server/services/catalogue/items'
import { inTransaction } from '~~/server/database/transactions'
import { ItemEdit } from '~~/shared/catalogue/item'
import { SaveDefinition } from '~~/shared/catalogue/definitions'
import { IdParam } from '~~/shared/primitives'

export default route('catalogue', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const body = input(SaveDefinition, await readBody(event))
  const definition = input(ItemEdit, body.definition)
  await inTransaction((tx) => changeItem(tx, actor, { id, version: body.version, definition }, body))
  return loadItem(id)
})
