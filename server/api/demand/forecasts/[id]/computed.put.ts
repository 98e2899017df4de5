import { inTransaction } from '~~/server/database/transactions'
import { saveComputed } from '~~/server/services/demand/forecasts'
import { ForecastComputed } from '~~/shared/demand/forecast'
import { IdParam } from '~~/shared/primitives'

export default route('demand', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(ForecastComputed, await readBody(event))
  return inTransaction((tx) => saveComputed(tx, actor, id, edit))
})
