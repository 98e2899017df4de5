import { inTransaction } from '~~/server/database/transactions'
import { deleteForecast } from '~~/server/services/demand/forecasts'
import { IdParam } from '~~/shared/primitives'

export default route('demand', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  return inTransaction((tx) => deleteForecast(tx, actor, id))
})
