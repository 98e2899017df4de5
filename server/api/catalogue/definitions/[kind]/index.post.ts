import { saveOne, schemaOf, shapeOf } from '~~/server/services/catalogue/definitions'
import { inTransaction } from '~~/server/database/transactions'
import { KindParam } from '~~/shared/catalogue/definitions'

export default route('catalogue', async (event, actor) => {
  const { kind } = input(KindParam, getRouterParams(event))
  const definition = input(schemaOf(kind), await readBody(event))
  return inTransaction((tx) => saveOne(tx, actor, shapeOf(kind), { id: null, version: null, definition }))
})
