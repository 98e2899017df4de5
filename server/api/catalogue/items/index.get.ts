import { listItems } from '~~/server/services/catalogue/items'
import { ItemQuery } from '~~/shared/catalogue'

export default route('see', async (event) => {
  const query = input(ItemQuery, getQuery(event))
  return listItems(query)
})
