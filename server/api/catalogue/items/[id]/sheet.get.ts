import { itemSheet } from '~~/server/services/catalogue/sheet'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  return itemSheet(id, actor.today)
})
