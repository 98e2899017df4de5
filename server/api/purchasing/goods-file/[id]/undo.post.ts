import { heavy } from '~~/server/heavy'
import { asPlain } from '~~/server/heavy/plain-actor'
import { requireTable } from '~~/server/services/catalogue/tables/batch-queries'
import { BatchParam } from '~~/shared/catalogue/import'

export default route('receive', async (event, actor) => {
  const { id } = input(BatchParam, getRouterParams(event))
  await requireTable(id, 'goods-received')
  return heavy(event, actor, 'takeBack', asPlain(actor), id)
})
