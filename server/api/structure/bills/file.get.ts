import { db } from '~~/server/database/client'
import { structuresAsJson } from '~~/server/services/structure/structures-json'
import { StructuresFileQuery } from '~~/shared/structure/requests'

export default route('costs', async (event) => {
  const { of: itemIds } = input(StructuresFileQuery, getQuery(event))
  return asFile(event, 'structures', 'json', await structuresAsJson(db, itemIds))
})
