import { progressOf } from '~~/server/services/catalogue/tables/batch-queries'
import { BatchParam } from '~~/shared/catalogue/import'

export default route('see', async (event) => {
  const { id } = input(BatchParam, getRouterParams(event))
  return progressOf(id)
})
