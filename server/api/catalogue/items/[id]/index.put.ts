import { inTransaction } from '~~/server/services/company/command'
import { changeItem } from '~~/server/services/catalogue/items'
import { ChangedItem } from '~~/shared/catalogue'
import { IdParam } from '~~/shared/primitives'

export default route('catalogue', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(ChangedItem, await readBody(event))
  return inTransaction(tx => changeItem(tx, actor, id, edit))
})
