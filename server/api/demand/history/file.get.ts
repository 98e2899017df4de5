import { sheetFile } from '~~/server/services/catalogue/tables/write-file'
import { historySheet } from '~~/server/services/demand/history-queries'
import { HistoryQuery } from '~~/shared/demand/history'
import { isAllowed } from '~~/shared/company/rights'
import { ExportQuery } from '~~/shared/catalogue/import'

export default route('see', async (event, actor) => {
  const { format } = input(ExportQuery, getQuery(event))
  const { headings, lines } = await historySheet(
    input(HistoryQuery, getQuery(event)),
    actor.today,
    isAllowed(actor, 'costs'),
  )
  return asFile(event, 'sales-history', format, await sheetFile('sales history', headings, lines, format))
})
