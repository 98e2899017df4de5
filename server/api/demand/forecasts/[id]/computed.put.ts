import { inTransaction } from '~~/server/services/company/command'
import { saveComputed } from '~~/server/services/demand/forecasts'
import { ForecastComputed } from '~~/shared/forecast'
import { IdParam } from '~~/shared/primitives'

export default route('demand', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(ForecastComputed, await readBody(event))
  return inTransaction((tx) => saveComputed(tx, actor, id, edit))
})
