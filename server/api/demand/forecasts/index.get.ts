import { listForecasts } from '~~/server/services/demand/forecast'

export default route('see', async () => listForecasts())
