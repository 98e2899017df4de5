import { listBlankets } from '~~/server/services/purchasing/blankets/list-blankets'
import { BlanketQuery } from '~~/shared/purchasing/blankets'

export default route('costs', async (event) => listBlankets(input(BlanketQuery, getQuery(event))))
