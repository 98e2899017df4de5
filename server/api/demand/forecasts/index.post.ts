import { inTransaction } from '~~/server/services/company/command'
import { createForecast } from '~~/server/services/demand/forecasts'
import { NewForecast } from '~~/shared/forecast'

export default route('demand', async (event, actor) => {
  const edit = input(NewForecast, await readBody(event))
  return inTransaction((tx) => createForecast(tx, actor, edit))
})
