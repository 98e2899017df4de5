import { inTransaction } from '~~/server/database/transactions'
import { changeForecast } from '~~/server/services/demand/forecasts'
import { ForecastEdit } from '~~/shared/demand/forecast'
import { IdParam } from '~~/shared/primitives'

export default route('demand', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(ForecastEdit, await readBody(event))
  return inTransaction((tx) => changeForecast(tx, actor, id, edit))
})
