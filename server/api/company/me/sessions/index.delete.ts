import { inTransaction } from '~~/server/database/transactions'
import { endSessions } from '~~/server/services/people/sessions'

export default sessionRoute('see', async (_, { id, sessionId }) =>
  inTransaction(async (tx) => ({ ended: await endSessions(tx, id, sessionId) })),
)
