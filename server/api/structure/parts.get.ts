import { db } from '~~/server/database/client'
import { loadParts } from '~~/server/services/structure/load-parts'
import { PartsQuery } from '~~/shared/structure/requests'

export default route('see', async (event, actor) => {
  const { of: itemId, revision } = input(PartsQuery, getQuery(event))
  return loadParts(db, actor.today, { below: itemId }, revision ? [revision] : [])
})
