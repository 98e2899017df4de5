import { heavy } from '~~/server/heavy'
import { IdParam } from '~~/shared/primitives'
import { TraceQuery } from '~~/shared/stock/requests'

export default route('see', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { direction } = input(TraceQuery, getQuery(event))
  const { name, text } = await heavy(event, actor, 'recallFile', { lot: id, piece: null }, direction)
  return asFile(event, name, 'csv', text)
})
