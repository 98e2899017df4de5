import { inTransaction } from '~~/server/database/transactions'
import { endSession } from '~~/server/services/people/sessions'
import { IdParam } from '~~/shared/primitives'

export default sessionRoute('see', async (event, session) => {
  const { id } = input(IdParam, getRouterParams(event))
  await inTransaction((tx) => endSession(tx, session.id, id))
  return { ended: 1 }
})
