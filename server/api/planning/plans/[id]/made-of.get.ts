import { heavy } from '~~/server/heavy'
import { MadeOfQuery } from '~~/shared/planning/requests'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { node, first, last } = input(MadeOfQuery, getQuery(event))
  return heavy(event, actor, 'madeOf', id, String(node), first, last)
})
