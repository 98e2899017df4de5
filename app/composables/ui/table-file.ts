import { isRightAligned, plainCell, type DataColumn } from './data-column'
import { saveBlob } from './save-blob'
import { saveCsv } from './save-csv'

/** What a spreadsheet would take for a formula stands behind an apostrophe. */
const escaped = (cell: string): string => (/^[=+@\t\r]|^-(?![\d.]+$)/.test(cell) ? `'${cell}` : cell)

const exported = (columns: readonly DataColumn[]): readonly DataColumn[] => columns.filter((column) => !column.isAct)
/** The heads of the columns; a quantity has its unit in a column of its own. */
const headsOf = (columns: readonly DataColumn[]): { name: string; kind: 'text' | 'number' | 'day' }[] =>
  exported(columns).flatMap((column) => [
    { name: column.name, kind: kindOf(column) },
    ...(column.kind === 'quantity' && column.unit ? [{ name: 'Unit', kind: 'text' as const }] : []),
  ])
function kindOf(column: DataColumn): 'text' | 'number' | 'day' {
  if (isRightAligned(column)) {
    return 'number'
  }
  return column.kind === 'day' ? 'day' : 'text'
}
const cellsOf = (row: object, columns: readonly DataColumn[]): string[] =>
  exported(columns).flatMap((column) => [
    plainCell(row, column),
    ...(column.kind === 'quantity' && column.unit ? [String((row as Record<string, unknown>)[column.unit] ?? '')] : []),
  ])

/** Rows as a spreadsheet takes them from the clipboard: heads, and cells with tabs between. */
export const asClipboard = (rows: readonly object[], columns: readonly DataColumn[]): string =>
  [headsOf(columns).map((head) => head.name), ...rows.map((row) => cellsOf(row, columns))]
    .map((cells) => cells.map((cell) => cell.replace(/[\t\n]/g, ' ')).join('\t'))
    .join('\n')

/** Gives a list to the person as a file: exactly the rows and columns that are shown, in their order. */
export async function saveTable(
  name: string,
  rows: readonly object[],
  columns: readonly DataColumn[],
  format: 'csv' | 'xlsx',
): Promise<void> {
  const heads = headsOf(columns)
  const lines = rows.map((row) => cellsOf(row, columns))
  if (format === 'csv') {
    await saveCsv([heads.map((head) => head.name), ...lines.map((line) => line.map(escaped))], `${name}.csv`)
    return
  }
  const file = await $fetch<Blob>('/api/company/table-file', {
    method: 'POST',
    body: { name, columns: heads, rows: lines },
    responseType: 'blob',
  })
  saveBlob(file, `${name}.xlsx`)
}
