import { changeItem, loadItem } from '~~/server/services/catalogue/items'
import { inTransaction } from '~~/server/services/company/command'
import { ItemEdit } from '~~/shared/catalogue'
import { SaveDefinition } from '~~/shared/definitions'
import { IdParam } from '~~/shared/primitives'

export default route('catalogue', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const body = input(SaveDefinition, await readBody(event))
  const definition = input(ItemEdit, body.definition)
  await inTransaction((tx) => changeItem(tx, actor, id, body.version, definition))
  return loadItem(id)
})
