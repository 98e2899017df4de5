import { exportTable } from '~~/server/services/books/export'
import { ExportParams } from '~~/shared/books/requests'

export default route('see', async (event) => {
  const { table } = input(ExportParams, getRouterParams(event))
  setResponseHeaders(event, {
    'content-type': 'text/csv; charset=utf-8',
    'content-disposition': `attachment; filename="${table}.csv"`,
  })
  return exportTable(table)
})
