import { listRequests } from '~~/server/services/purchasing/quotations/list-requests'
import { RequestQuery } from '~~/shared/purchasing/quotations'

export default route('costs', async (event) => listRequests(input(RequestQuery, getQuery(event))))
