import { db } from '~~/server/database/client'
import { dueItems } from '~~/server/services/stock/counts-due'

export default route('see', async (event, actor) => {
  void event
  return dueItems(db, actor.today)
})
