import { inTransaction } from '~~/server/services/company/command'
import { takeCorrectionBack } from '~~/server/services/demand/history'
import { IdParam } from '~~/shared/primitives'

export default route('demand', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  return inTransaction((tx) => takeCorrectionBack(tx, actor, id))
})
