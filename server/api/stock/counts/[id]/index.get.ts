import { loadCount } from '~~/server/services/stock/count-queries'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  return loadCount(id, actor.role === 'owner' && getQuery(event).review === 'yes')
})
