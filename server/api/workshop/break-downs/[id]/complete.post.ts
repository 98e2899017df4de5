import { once } from '~~/server/database/transactions'
import { completeBreakDown } from '~~/server/services/workshop/complete-break-down'
import { CompleteBreakDown } from '~~/shared/workshop/requests'
import { IdParam } from '~~/shared/primitives'

export default route('make', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(CompleteBreakDown, await readBody(event))
  return once(actor, key, (tx) => completeBreakDown(tx, actor, id, edit))
})
