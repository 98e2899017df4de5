import { heavy } from '~~/server/heavy'
import { asPlain } from '~~/server/heavy/plain-actor'
import { ApplyImport, BatchParam } from '~~/shared/catalogue/import'

export default route('catalogue', async (event, actor) => {
  const { id } = input(BatchParam, getRouterParams(event))
  const { mapping } = input(ApplyImport, (await readBody(event)) ?? {})
  return heavy(event, actor, 'applyImport', asPlain(actor), id, mapping)
})
