import { stopBatch } from '~~/server/services/catalogue/tables/batch-queries'
import { BatchParam } from '~~/shared/catalogue/import'

export default route('catalogue', async (event) => {
  const { id } = input(BatchParam, getRouterParams(event))
  return stopBatch(id)
})
