import { requireTable, stopBatch } from '~~/server/services/catalogue/tables/batch-queries'
import { BatchParam } from '~~/shared/catalogue/import'

export default route('receive', async (event) => {
  const { id } = input(BatchParam, getRouterParams(event))
  await requireTable(id, 'goods-received')
  return stopBatch(id)
})
