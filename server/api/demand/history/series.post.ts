import { readSeries } from '~~/server/services/demand/history-queries'
import { SeriesQuery } from '~~/shared/demand/forecast'

export default route('see', async (event, actor) => readSeries(input(SeriesQuery, await readBody(event)), actor.today))
