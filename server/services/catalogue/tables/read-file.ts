import Papa from 'papaparse'
import { Refusal } from '~~/server/utils/refusal'
import type { Mapping } from '~~/shared/catalogue/import'
import type { WorkbookTask } from '~~/server/jobs/workbook'
import { CutOff, threads } from '~~/server/utils/threads'
import { columnsOf, type Table } from './tables'
import type { Row, WorkbookAnswer } from './workbook'

/** Far more than any table of ours has. */
const MOST_COLUMNS = 500
/** Twenty thousand lines take about a second. */
const readWorkbook = threads<WorkbookTask, WorkbookAnswer>('workbook', { memory: 1024 })
const LONGEST = 60_000

/** A file as lines of text under headings; `line` counts as a spreadsheet does. */
export interface Sheet {
  readonly headings: readonly string[]
  readonly lines: readonly { readonly line: number; readonly cells: Readonly<Record<string, string>> }[]
}

/** Reads CSV (comma, semicolon or tab; UTF-8 or Windows-1252) or the first sheet of an XLSX workbook. */
export async function readSheet(fileName: string, content: Buffer): Promise<Sheet> {
  const table = /\.xlsx$/i.test(fileName) ? await rowsOfWorkbook(content) : readCsv(content)
  const [first, ...rest] = table
  const headings = (first?.cells ?? []).map((heading) => heading.trim())
  requireFewColumns(headings.length)
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

function requireFewColumns(count: number): void {
  if (count > MOST_COLUMNS) {
    throw new Refusal('invalid-input', `The file has ${count} columns; at most ${MOST_COLUMNS} are read.`)
  }
}

/** The lines of a workbook, read in a thread: what is packed small can be very large. */
async function rowsOfWorkbook(content: Buffer): Promise<readonly Row[]> {
  const answer = await readWorkbook({ content }, { longest: LONGEST }).catch((error: unknown) => {
    if (error instanceof CutOff) {
      return { refused: 'The workbook is too large to be read. Save its first sheet as CSV, in parts.' }
    }
    throw error
  })
  if ('refused' in answer) {
    throw new Refusal('invalid-input', answer.refused)
  }
  return answer.rows
}

function readCsv(content: Buffer): Row[] {
  const text = decode(content)
  requireFewColumns(text.split(/\r?\n/, 1)[0]!.split(delimiterOf(text)).length)
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
