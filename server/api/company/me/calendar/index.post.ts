import { inTransaction } from '~~/server/database/transactions'
import { makeFeed } from '~~/server/services/running/calendar-feed'

export default sessionRoute('see', async (event, session, { address }) => {
  const { token } = await inTransaction((tx) => makeFeed(tx, session, address))
  return { address: `${linkOrigin(event)}/api/calendar/${token}` }
})
