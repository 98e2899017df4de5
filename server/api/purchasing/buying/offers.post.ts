import { db } from '~~/server/database/client'
import { offersFor } from '~~/server/services/purchasing/buying/offers'
import { AskOffers } from '~~/shared/purchasing/requests'

/** What the suppliers of an item ask for a quantity, while it is typed. */
export default route('see', async (event, actor) => {
  const asked = input(AskOffers, await readBody(event))
  return offersFor(db, asked, actor.today)
})
