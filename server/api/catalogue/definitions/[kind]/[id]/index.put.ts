import { loadDefinition, saveOne, schemaOf, shapeOf } from '~~/server/services/catalogue/definitions'
import { inTransaction } from '~~/server/database/transactions'
import { DefinitionParam, SaveDefinition } from '~~/shared/catalogue/definitions'

export default route('catalogue', async (event, actor) => {
  const { kind, id } = input(DefinitionParam, getRouterParams(event))
  const body = input(SaveDefinition, await readBody(event))
  const definition = input(schemaOf(kind), body.definition)
  return inTransaction(async (tx) => {
    await saveOne(tx, actor, shapeOf(kind), { id, version: body.version, definition }, { confirmed: body.confirmed })
    return loadDefinition(tx, kind, id)
  })
})
