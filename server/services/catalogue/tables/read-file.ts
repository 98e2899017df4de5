import type { CellValue } from 'exceljs'
import Papa from 'papaparse'
import { Refusal } from '~~/server/utils/refusal'
import type { Mapping } from '~~/shared/catalogue/import'
import { columnsOf, type Table } from './tables'

/** A file as lines of text under headings; `line` counts as a spreadsheet does. */
export interface Sheet {
  readonly headings: readonly string[]
  readonly lines: readonly { readonly line: number; readonly cells: Readonly<Record<string, string>> }[]
}

/** Reads CSV (comma, semicolon or tab; UTF-8 or Windows-1252) or the first sheet of an XLSX workbook. */
export async function readSheet(fileName: string, content: Buffer): Promise<Sheet> {
  const table = /\.xlsx$/i.test(fileName) ? await readWorkbook(content) : readCsv(content)
  const [first, ...rest] = table
  const headings = (first?.cells ?? []).map((heading) => heading.trim())
  if (headings.every((heading) => heading === '')) {
    throw new Refusal('invalid-input', 'The file has no line of headings. Name the columns in its first line.')
  }
  const lines = rest
    .map(({ line, cells }) => ({
      line,
      cells: Object.fromEntries(headings.map((heading, index) => [heading, unescape((cells[index] ?? '').trim())])),
    }))
    .filter(({ cells }) => Object.values(cells).some((cell) => cell !== ''))
  return { headings: headings.filter((heading) => heading !== ''), lines }
}

/** An apostrophe that guards a cell against being taken for a formula goes again. */
const unescape = (cell: string): string => (/^'[=+\-@\t\r]/.test(cell) ? cell.slice(1) : cell)

function readCsv(content: Buffer): { line: number; cells: string[] }[] {
  const text = decode(content)
  const read = Papa.parse<string[]>(text, { skipEmptyLines: false, delimiter: delimiterOf(text) })
  const wrong = read.errors.find((error) => error.code !== 'UndetectableDelimiter')
  if (wrong) {
    throw new Refusal('invalid-input', `Line ${(wrong.row ?? 0) + 1} of the file could not be read: ${wrong.message}.`)
  }
  return read.data.map((cells, index) => ({ line: index + 1, cells }))
}

/** What divides the headings divides the file; names of columns hold neither, while what stands below them may. */
function delimiterOf(text: string): string {
  const headings = text
    .trimStart()
    .split(/\r?\n/, 1)[0]!
    .replace(/"[^"]*"/g, '')
  return [',', ';', '\t'].reduce((best, entry) =>
    headings.split(entry).length > headings.split(best).length ? entry : best,
  )
}

function decode(content: Buffer): string {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(content).replace(/^\uFEFF/, '')
  } catch {
    return new TextDecoder('windows-1252').decode(content)
  }
}

async function readWorkbook(content: Buffer): Promise<{ line: number; cells: string[] }[]> {
  // Loaded with the first use: it is large, and few requests want it.
  const { default: ExcelJS } = await import('exceljs')
  const book = new ExcelJS.Workbook()
  try {
    await book.xlsx.load(content as unknown as ArrayBuffer)
  } catch {
    throw new Refusal(
      'invalid-input',
      'The file could not be read as a workbook. Save it as XLSX or CSV and choose it again.',
    )
  }
  const lines: { line: number; cells: string[] }[] = []
  book.worksheets[0]?.eachRow((row, line) => {
    const values = Array.isArray(row.values) ? row.values.slice(1) : []
    lines.push({ line, cells: Array.from(values, cellText) })
  })
  return lines
}

function cellText(value: CellValue | undefined): string {
  if (value === null || value === undefined) {
    return ''
  }
  if (value instanceof Date) {
    return value.toISOString().slice(0, 10)
  }
  if (typeof value === 'boolean') {
    return value ? 'yes' : 'no'
  }
  if (typeof value !== 'object') {
    return String(value)
  }
  if ('richText' in value) {
    return value.richText.map((part) => part.text).join('')
  }
  if ('result' in value) {
    return cellText(value.result as CellValue)
  }
  return 'text' in value ? String(value.text) : ''
}

const bare = (heading: string): string => heading.toLowerCase().replace(/[^\p{L}\p{N}]/gu, '')

/** Matches columns with headings by their names, whatever the case, spaces and strokes. */
export function matchColumns(table: Table, headings: readonly string[]): Mapping {
  const columns = columnsOf(table)
  const called = (name: string): string | undefined => headings.find((heading) => bare(heading) === bare(name))
  // Its own name goes first; a heading that is the name of one column is not taken as another word for a second.
  const taken = new Set(columns.flatMap((column) => called(column.name) ?? []))
  return Object.fromEntries(
    columns.map((column) => [
      column.name,
      called(column.name) ??
        [column.field, ...column.also].map(called).find((heading) => heading !== undefined && !taken.has(heading)) ??
        null,
    ]),
  )
}
