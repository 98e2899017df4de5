import { heavy } from '~~/server/heavy'
import { asPlain } from '~~/server/heavy/plain-actor'
import { requireTable } from '~~/server/services/catalogue/tables/batch-queries'
import { ApplyImport, BatchParam } from '~~/shared/catalogue/import'

export default route('receive', async (event, actor) => {
  const { id } = input(BatchParam, getRouterParams(event))
  const { mapping } = input(ApplyImport, (await readBody(event)) ?? {})
  await requireTable(id, 'goods-received')
  return heavy(event, actor, 'applyImport', asPlain(actor), id, mapping)
})
