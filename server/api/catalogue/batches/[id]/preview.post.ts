import { heavy } from '~~/server/heavy'
import { asPlain } from '~~/server/heavy/plain-actor'
import { BatchParam, ImportMapping } from '~~/shared/catalogue/import'

export default route('catalogue', async (event, actor) => {
  const { id } = input(BatchParam, getRouterParams(event))
  const { mapping } = input(ImportMapping, await readBody(event))
  return heavy(event, actor, 'previewImport', asPlain(actor), id, mapping)
})
