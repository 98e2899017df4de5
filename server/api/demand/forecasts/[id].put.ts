import { inTransaction } from '~~/server/services/company/command'
import { changeForecast } from '~~/server/services/demand/forecasts'
import { ForecastEdit } from '~~/shared/forecast'
import { IdParam } from '~~/shared/primitives'

export default route('demand', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(ForecastEdit, await readBody(event))
  return inTransaction((tx) => changeForecast(tx, actor, id, edit))
})
