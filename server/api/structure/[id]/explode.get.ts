import { explodeItem } from '~~/server/services/structure/questions'
import { ExplodeQuery } from '~~/shared/structure'
import { IdParam } from '~~/shared/primitives'

export default route('see', async event => {
  const { id } = input(IdParam, getRouterParams(event))
  const query = input(ExplodeQuery, getQuery(event))
  return explodeItem(id, query.quantity, query.unit)
})
