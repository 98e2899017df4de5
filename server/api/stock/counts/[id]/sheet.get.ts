import { countFile } from '~~/server/services/stock/count-sheet'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { name, text } = await countFile(id)
  return asFile(event, name, 'csv', text)
})
