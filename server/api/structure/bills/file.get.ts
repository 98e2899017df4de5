import { heavy } from '~~/server/heavy'
import { StructuresFileQuery } from '~~/shared/structure/requests'

export default route('costs', async (event, actor) => {
  const { of: itemIds } = input(StructuresFileQuery, getQuery(event))
  return asFile(event, 'structures', 'json', await heavy(event, actor, 'structuresAsJson', itemIds))
})
