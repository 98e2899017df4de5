import { traceGoods } from '~~/server/services/stock/genealogy'
import { IdParam } from '~~/shared/primitives'
import { TraceQuery } from '~~/shared/stock/requests'

export default route('see', async (event) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { direction } = input(TraceQuery, getQuery(event))
  return traceGoods({ lot: null, piece: id }, direction)
})
