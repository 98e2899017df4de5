import { itemIds } from '~~/server/services/catalogue/items'
import { ItemQuery } from '~~/shared/catalogue/requests'

export default route('see', async (event) => {
  const query = input(ItemQuery, getQuery(event))
  return itemIds(query)
})
