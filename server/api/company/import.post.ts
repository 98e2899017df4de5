import { inTransaction } from '~~/server/database/transactions'
import { importInto } from '~~/server/services/company/import-company'
import { ImportFiles } from '~~/shared/catalogue/import'

export default route('people', async (event, actor) => {
  const { files } = input(ImportFiles, await readBody(event))
  return inTransaction((tx) => importInto(tx, actor, new Map(files.map((file) => [file.name, file.text]))))
})
