import { heavy } from '~~/server/heavy'
import { asPlain } from '~~/server/heavy/plain-actor'
import { ImportFiles } from '~~/shared/catalogue/import'

export default route('people', async (event, actor) => {
  const { files } = input(ImportFiles, await readBody(event))
  return heavy(event, actor, 'importInto', asPlain(actor), new Map(files.map((file) => [file.name, file.text])))
})
