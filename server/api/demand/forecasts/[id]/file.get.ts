import { sheetFile } from '~~/server/services/catalogue/tables/write-file'
import { forecastSheet } from '~~/server/services/demand/forecast-queries'
import { ExportQuery } from '~~/shared/catalogue/import'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { format } = input(ExportQuery, getQuery(event))
  const { headings, lines } = await forecastSheet(id)
  return asFile(event, `forecast-${id}`, format, await sheetFile('forecast', headings, lines, format))
})
