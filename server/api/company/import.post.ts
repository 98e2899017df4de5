import { inTransaction } from '~~/server/services/company/command'
import { importInto } from '~~/server/services/company/import-company'
import { ImportFiles } from '~~/shared/import'

export default route('people', async (event, actor) => {
  const { files } = input(ImportFiles, await readBody(event))
  return inTransaction((tx) => importInto(tx, actor, new Map(files.map((file) => [file.name, file.text]))))
})
