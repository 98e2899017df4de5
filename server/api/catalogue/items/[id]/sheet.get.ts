import { itemSheet } from '~~/server/services/catalogue/sheet'
import { IdParam } from '~~/shared/primitives'

export default route('see', async event => {
  const { id } = input(IdParam, getRouterParams(event))
  return itemSheet(id)
})
