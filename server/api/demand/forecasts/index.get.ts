import { listForecasts } from '~~/server/services/demand/forecast-queries'

export default route('see', async () => listForecasts())
