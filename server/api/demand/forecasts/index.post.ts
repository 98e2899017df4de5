import { inTransaction } from '~~/server/database/transactions'
import { createForecast } from '~~/server/services/demand/forecasts'
import { NewForecast } from '~~/shared/demand/forecast'

export default route('demand', async (event, actor) => {
  const edit = input(NewForecast, await readBody(event))
  return inTransaction((tx) => createForecast(tx, actor, edit))
})
