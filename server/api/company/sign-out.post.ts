import { inTransaction } from '~~/server/database/transactions'
import { endSession } from '~~/server/services/people/sessions'

export default openRoute(async (event) => {
  const session = await sessionOf(event)
  if (session) {
    await inTransaction((tx) => endSession(tx, session.id, session.sessionId))
  }
  await clearUserSession(event)
  return { signedOut: true }
})
