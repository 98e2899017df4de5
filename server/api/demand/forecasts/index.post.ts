import { inTransaction } from '~~/server/services/company/command'
import { createForecast } from '~~/server/services/demand/forecast'
import { NewForecast } from '~~/shared/demand'

export default route('demand', async (event, actor) => {
  const edit = input(NewForecast, await readBody(event))
  return inTransaction(tx => createForecast(tx, actor, edit))
})
