import { inTransaction } from '~~/server/database/transactions'
import { changeOrder } from '~~/server/services/demand/orders'
import { ChangedSalesOrder } from '~~/shared/demand/requests'
import { IdParam } from '~~/shared/primitives'

export default route('demand', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(ChangedSalesOrder, await readBody(event))
  return inTransaction((tx) => changeOrder(tx, actor, id, edit))
})
