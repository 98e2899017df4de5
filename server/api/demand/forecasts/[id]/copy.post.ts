import { inTransaction } from '~~/server/database/transactions'
import { copyForecast } from '~~/server/services/demand/forecasts'
import { CopyForecast } from '~~/shared/demand/forecast'
import { IdParam } from '~~/shared/primitives'

export default route('demand', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(CopyForecast, await readBody(event))
  return inTransaction((tx) => copyForecast(tx, actor, id, edit))
})
