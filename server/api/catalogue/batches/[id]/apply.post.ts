import { applyImport } from '~~/server/services/catalogue/tables/batches'
import { inTransaction } from '~~/server/database/transactions'
import { ApplyImport, BatchParam } from '~~/shared/catalogue/import'

export default route('catalogue', async (event, actor) => {
  const { id } = input(BatchParam, getRouterParams(event))
  const { mapping } = input(ApplyImport, (await readBody(event)) ?? {})
  return inTransaction((tx) => applyImport(tx, actor, id, mapping))
})
