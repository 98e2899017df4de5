import { recallFile } from '~~/server/services/stock/recall-file'
import { IdParam } from '~~/shared/primitives'
import { TraceQuery } from '~~/shared/stock/requests'

export default route('see', async (event) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { direction } = input(TraceQuery, getQuery(event))
  const { name, text } = await recallFile({ lot: null, piece: id }, direction)
  return asFile(event, name, 'csv', text)
})
