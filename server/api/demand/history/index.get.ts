import { readHistory } from '~~/server/services/demand/history-queries'
import { HistoryQuery } from '~~/shared/demand/history'

export default route('see', async (event, actor) => readHistory(input(HistoryQuery, getQuery(event)), actor.today))
