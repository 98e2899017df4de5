import { stringify } from 'csv-stringify/sync'
import { db } from '~~/server/database/client'
import type { TableName } from '~~/shared/catalogue/words'
import { loadGroupDefaults, shapeOf } from '../definitions'
import { loadNames, type Names } from './names'
import { columnsOf, TABLE, type Table } from './tables'

type Fields = Record<string, unknown>

/** A table of the catalogue as a file that can be brought in again. */
export async function exportCatalogue(name: TableName, format: 'csv' | 'xlsx'): Promise<string | Buffer> {
  const lines = await tableLines(name)
  const headings = columnsOf(TABLE[name]).map((column) => column.name)
  return sheetFile(name, headings, lines, format)
}

/** Lines of text under headings as a file that a spreadsheet opens. */
export async function sheetFile(
  name: string,
  headings: readonly string[],
  lines: readonly (readonly string[])[],
  format: 'csv' | 'xlsx',
): Promise<string | Buffer> {
  if (format === 'csv') {
    return stringify([headings, ...lines] as string[][], { escape_formulas: true, bom: true })
  }
  // Loaded with the first use: it is large, and few requests want it.
  const { default: ExcelJS } = await import('exceljs')
  const book = new ExcelJS.Workbook()
  const sheet = book.addWorksheet(name, { views: [{ state: 'frozen', ySplit: 1 }] })
  sheet.addRow([...headings]).font = { bold: true }
  sheet.addRows(lines as string[][])
  sheet.columns.forEach((column, index) => {
    column.width = Math.min(40, Math.max(10, headings[index]!.length + 2))
  })
  return Buffer.from(await book.xlsx.writeBuffer())
}

async function tableLines(name: TableName): Promise<string[][]> {
  const table = TABLE[name]
  const names = await loadNames(db, table.names)
  const summary = name === 'items' ? await loadGroupDefaults(db) : null
  const stored = (await shapeOf(table.kind).load(db, 'all')) as unknown as Fields[]
  return stored.flatMap((definition) =>
    entriesOf(table, definition).map((entry) =>
      columnsOf(table).map((column, index) => {
        if (table.list && index === 0) {
          return table.numbered
            ? names.codeOf('items', definition.itemId as number)
            : String(definition[table.keyField])
        }
        if (table.list && table.numbered && index === 1) {
          return String(definition[table.numbered])
        }
        if (column.ofHead) {
          return write(column, definition, names)
        }
        if (summary && (definition.inherited as string[]).includes(column.field)) {
          return ''
        }
        // “none” tells an item's own nothing from what its group says.
        if (
          summary &&
          definition[column.field] === null &&
          (summary.get(definition.groupId as number) as Fields)[column.field] !== undefined
        ) {
          return 'none'
        }
        return write(column, entry, names)
      }),
    ),
  )
}

const write = (column: Table['columns'][number], entry: Fields, names: Names): string =>
  column.write(
    column.field.split('.').reduce<unknown>((value, step) => (value as Fields | undefined)?.[step], entry),
    names,
  )

function entriesOf(table: Table, definition: Fields): Fields[] {
  if (!table.list) {
    return [definition]
  }
  const { field, within } = table.list
  if (!within) {
    return definition[field] as Fields[]
  }
  return (definition[within.field] as Fields[]).flatMap((outer) =>
    (outer[field] as Fields[]).map((inner) => ({
      ...inner,
      [within.by]: outer[within.by === 'component' ? 'itemId' : within.by],
    })),
  )
}
