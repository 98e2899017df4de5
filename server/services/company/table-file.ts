import type { TableFile } from '~~/shared/lists'

const asCell = (text: string, kind: TableFile['columns'][number]['kind']): string | number | Date | null => {
  if (text === '') {
    return null
  }
  if (kind === 'number') {
    const number = Number(text)
    return Number.isFinite(number) ? number : text
  }
  return kind === 'day' && /^\d{4}-\d{2}-\d{2}$/.test(text) ? new Date(`${text}T00:00:00Z`) : text
}

/** A table of the screen as a workbook: numbers as numbers, days as days, and heads that stay while one scrolls. */
export async function writeTableFile({ name, columns, rows }: TableFile): Promise<Buffer> {
  const { default: ExcelJS } = await import('exceljs')
  const book = new ExcelJS.Workbook()
  const sheet = book.addWorksheet(name.replace(/[*?:\\/[\]]/g, ' ').slice(0, 31), {
    views: [{ state: 'frozen', ySplit: 1 }],
  })
  sheet.columns = columns.map((column, index) => ({
    header: column.name,
    width: Math.min(
      60,
      Math.max(10, column.name.length, ...rows.slice(0, 200).map((row) => (row[index] ?? '').length)),
    ),
    ...(column.kind === 'day' && { style: { numFmt: 'yyyy-mm-dd' } }),
  }))
  sheet.getRow(1).font = { bold: true }
  for (const row of rows) {
    sheet.addRow(columns.map((column, index) => asCell(row[index] ?? '', column.kind)))
  }
  return Buffer.from(await book.xlsx.writeBuffer())
}
