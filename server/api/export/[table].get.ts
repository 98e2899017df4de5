import { exportTable } from '~~/server/services/books/export'
import { ExportParams, ExportQuery } from '~~/shared/books/requests'

export default route('costs', async (event) => {
  const { table } = input(ExportParams, getRouterParams(event))
  const query = input(ExportQuery, getQuery(event))
  const days = [query.from, query.until, query.asOf].filter((day) => day !== null)
  setResponseHeaders(event, {
    'content-type': 'text/csv; charset=utf-8',
    'content-disposition': `attachment; filename="${[table, ...days].join('-')}.csv"`,
  })
  return exportTable(table, query)
})
