import { inTransaction } from '~~/server/services/company/command'
import { placeInShop } from '~~/server/services/demand/shop'
import { NewShopOrder } from '~~/shared/demand'

export default route('demand', async (event, actor) => {
  const order = input(NewShopOrder, await readBody(event))
  return inTransaction((tx) => placeInShop(tx, actor, order))
})
