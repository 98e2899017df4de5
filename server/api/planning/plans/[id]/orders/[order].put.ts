import { once } from '~~/server/database/transactions'
import { editOrder } from '~~/server/services/planning/edit-order'
import { askRun, soon } from '~~/server/services/planning/runs'
import { OrderEdit, WhyParams } from '~~/shared/planning/requests'

export default route('plan', async (event, actor) => {
  const { id, order } = input(WhyParams, getRouterParams(event))
  const { key, ...edit } = input(OrderEdit, await readBody(event))
  const done = await once(actor, key, (tx) => editOrder(tx, actor, { planId: id, orderId: order }, edit, askRun))
  return { ...done, ...(await soon(id)) }
})
