import { alikeForecasts } from '~~/server/services/demand/forecast-queries'

export default route('see', async () => alikeForecasts())
