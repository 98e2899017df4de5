import { inTransaction } from '~~/server/database/transactions'
import { sendAgain } from '~~/server/services/company/mails'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  return inTransaction((tx) => sendAgain(tx, actor, id))
})
