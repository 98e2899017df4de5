import { inTransaction } from '~~/server/database/transactions'
import { endFeed } from '~~/server/services/running/calendar-feed'

export default sessionRoute('see', async (_, session, { address }) => {
  await inTransaction((tx) => endFeed(tx, session, address))
  return { ended: true }
})
