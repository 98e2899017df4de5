import { db } from '~~/server/database/client'
import { changesOf } from '~~/server/services/catalogue/changes'
import { DefinitionParam } from '~~/shared/catalogue/definitions'

export default route('see', async (event) => {
  const { kind, id } = input(DefinitionParam, getRouterParams(event))
  return changesOf(db, kind, id)
})
