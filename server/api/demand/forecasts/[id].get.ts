import { loadForecast } from '~~/server/services/demand/forecast-queries'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event) => {
  const { id } = input(IdParam, getRouterParams(event))
  return loadForecast(id)
})
