import { once } from '~~/server/services/company/command'
import { editOrder } from '~~/server/services/planning/edit-order'
import { OrderEdit, WhyParams } from '~~/shared/planning'

export default route('plan', async (event, actor) => {
  const { id, order } = input(WhyParams, getRouterParams(event))
  const { key, ...edit } = input(OrderEdit, await readBody(event))
  return once(actor, key, tx => editOrder(tx, actor, id, order, edit))
})
