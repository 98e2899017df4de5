import { db } from '~~/server/database/client'
import { receivedAround, receivedOfOrder } from '~~/server/services/purchasing/received-goods'
import { IdParam } from '~~/shared/primitives'
import { ReceivedQuery } from '~~/shared/purchasing/requests'

/** What an order brought; with `around` also what else came in the sixty days before that day. */
export default route('books', async (event) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { around } = input(ReceivedQuery, getQuery(event))
  return around === null ? receivedOfOrder(db, id) : receivedAround(db, id, around)
})
