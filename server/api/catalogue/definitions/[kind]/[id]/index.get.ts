import { db } from '~~/server/database/client'
import { loadDefinition } from '~~/server/services/catalogue/definitions'
import { DefinitionParam } from '~~/shared/catalogue/definitions'

export default route('see', async (event) => {
  const { kind, id } = input(DefinitionParam, getRouterParams(event))
  return loadDefinition(db, kind, id)
})
