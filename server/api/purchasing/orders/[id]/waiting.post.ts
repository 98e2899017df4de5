import { db } from '~~/server/database/client'
import { waitingFor } from '~~/server/services/purchasing/confirm-purchase'
import { ConfirmPurchase } from '~~/shared/purchasing/requests'
import { IdParam } from '~~/shared/primitives'

export default route('buy', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { lines } = input(ConfirmPurchase.pick({ lines: true }), await readBody(event))
  return waitingFor(db, id, lines, actor.today)
})
