import { saveOne, schemaOf, shapeOf } from '~~/server/services/catalogue/definitions'
import { inTransaction } from '~~/server/services/company/command'
import { KindParam } from '~~/shared/definitions'

export default route('catalogue', async (event, actor) => {
  const { kind } = input(KindParam, getRouterParams(event))
  const definition = input(schemaOf(kind), await readBody(event))
  return inTransaction((tx) => saveOne(tx, actor, shapeOf(kind), { id: null, version: null, definition }))
})
