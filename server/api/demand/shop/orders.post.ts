import { inTransaction } from '~~/server/database/transactions'
import { placeInShop } from '~~/server/services/demand/shop'
import { NewShopOrder } from '~~/shared/demand/requests'

export default route('demand', async (event, actor) => {
  const order = input(NewShopOrder, await readBody(event))
  return inTransaction((tx) => placeInShop(tx, actor, order))
})
