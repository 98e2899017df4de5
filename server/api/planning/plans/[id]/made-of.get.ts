import { madeOf } from '~~/server/services/planning/made-of'
import { MadeOfQuery } from '~~/shared/planning/requests'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { node, first, last } = input(MadeOfQuery, getQuery(event))
  return madeOf(id, String(node), first, last)
})
