import { writeTableFile } from '~~/server/services/company/table-file'
import { TableFile } from '~~/shared/lists'

export default route('see', async (event) => {
  const table = input(TableFile, await readBody(event))
  setResponseHeader(event, 'content-type', 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet')
  return writeTableFile(table)
})
