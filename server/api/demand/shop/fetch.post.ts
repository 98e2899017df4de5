import { once } from '~~/server/database/transactions'
import { fetchFromShop } from '~~/server/services/demand/shop'
import { FetchShop } from '~~/shared/demand/requests'

export default route('demand', async (event, actor) => {
  const { key, numbers } = input(FetchShop, await readBody(event))
  return once(actor, key, (tx) => fetchFromShop(tx, actor, numbers))
})
