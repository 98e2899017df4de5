import { listForecasts } from '~~/server/services/demand/forecasts'

export default route('see', async () => listForecasts())
