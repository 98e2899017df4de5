import { heavy } from '~~/server/heavy'
import { TableFile } from '~~/shared/lists'

export default route('see', async (event, actor) => {
  const table = input(TableFile, await readBody(event))
  setResponseHeader(event, 'content-type', 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet')
  return heavy(event, actor, 'writeTableFile', table)
})
