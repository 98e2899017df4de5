import { heavy } from '~~/server/heavy'
import { COST_TABLES } from '~~/shared/catalogue/words'
import { ExportQuery, TableParam } from '~~/shared/catalogue/import'

const TYPES = {
  csv: 'text/csv; charset=utf-8',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
} as const

export default route('see', async (event, actor) => {
  const { table } = input(TableParam, getRouterParams(event))
  if (COST_TABLES.includes(table)) {
    requireAllowed(actor, 'costs')
  }
  const { format } = input(ExportQuery, getQuery(event))
  setResponseHeaders(event, {
    'content-type': TYPES[format],
    'content-disposition': `attachment; filename="${table}.${format}"`,
  })
  return heavy(event, actor, 'exportCatalogue', table, format)
})
