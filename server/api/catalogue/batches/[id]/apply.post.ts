import { applyImport } from '~~/server/services/catalogue/tables/batches'
import { inTransaction } from '~~/server/services/company/command'
import { ApplyImport, BatchParam } from '~~/shared/import'

export default route('catalogue', async (event, actor) => {
  const { id } = input(BatchParam, getRouterParams(event))
  const { mapping } = input(ApplyImport, (await readBody(event)) ?? {})
  return inTransaction((tx) => applyImport(tx, actor, id, mapping))
})
