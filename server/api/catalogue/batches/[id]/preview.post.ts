import { previewImport } from '~~/server/services/catalogue/tables/batches'
import { BatchParam, ImportMapping } from '~~/shared/catalogue/import'

export default route('catalogue', async (event, actor) => {
  const { id } = input(BatchParam, getRouterParams(event))
  const { mapping } = input(ImportMapping, await readBody(event))
  return previewImport(actor, id, mapping)
})
