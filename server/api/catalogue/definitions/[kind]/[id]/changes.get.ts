import { db } from '~~/server/database/client'
import { changesOf } from '~~/server/services/catalogue/changes'
import { DefinitionParam } from '~~/shared/catalogue/definitions'
import { isAllowed } from '~~/shared/company/rights'

export default route('see', async (event, actor) => {
  const { kind, id } = input(DefinitionParam, getRouterParams(event))
  return changesOf(db, kind, id, isAllowed(actor, 'costs'))
})
