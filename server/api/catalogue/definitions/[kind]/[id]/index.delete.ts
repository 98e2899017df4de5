import { remove, shapeOf } from '~~/server/services/catalogue/definitions'
import { inTransaction } from '~~/server/database/transactions'
import { DefinitionParam } from '~~/shared/catalogue/definitions'

export default route('catalogue', async (event, actor) => {
  const { kind, id } = input(DefinitionParam, getRouterParams(event))
  await inTransaction((tx) => remove(tx, actor, shapeOf(kind), [id]))
  return { id }
})
