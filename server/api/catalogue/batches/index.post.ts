import { openImport } from '~~/server/services/catalogue/tables/batches'
import { NewImport } from '~~/shared/catalogue/import'

export default route('catalogue', async (event, actor) => {
  const file = input(NewImport, await readBody(event))
  return openImport(actor, file)
})
