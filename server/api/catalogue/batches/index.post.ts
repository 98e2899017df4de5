import { heavy } from '~~/server/heavy'
import { asPlain } from '~~/server/heavy/plain-actor'
import { NewImport } from '~~/shared/catalogue/import'

export default route('catalogue', async (event, actor) => {
  const file = input(NewImport, await readBody(event))
  return heavy(event, actor, 'openImport', asPlain(actor), file)
})
