import type { CellValue } from 'exceljs'

/** Bytes that a workbook may have once it is unpacked: some hundred thousand lines. */
const MOST_UNPACKED = 150 * 1024 * 1024
const MOST_FILES = 2000

/** A line of cells; `line` counts as a spreadsheet does. */
export interface Row {
  readonly line: number
  readonly cells: string[]
}
export type WorkbookAnswer = { readonly rows: readonly Row[] } | { readonly refused: string }

/** The lines of the first sheet of an XLSX workbook (ECMA-376). */
export async function readWorkbook(content: Buffer): Promise<WorkbookAnswer> {
  const unpacked = unpackedBytes(content)
  if (unpacked === null) {
    return { refused: 'The file could not be read as a workbook. Save it as XLSX or CSV and choose it again.' }
  }
  if (unpacked > MOST_UNPACKED) {
    return { refused: 'The workbook holds more than 150 MB once it is unpacked. Save its first sheet as CSV.' }
  }
  const { default: ExcelJS } = await import('exceljs')
  const book = new ExcelJS.Workbook()
  try {
    await book.xlsx.load(content as unknown as ArrayBuffer)
  } catch {
    return { refused: 'The file could not be read as a workbook. Save it as XLSX or CSV and choose it again.' }
  }
  const rows: Row[] = []
  book.worksheets[0]?.eachRow((row, line) => {
    const values = Array.isArray(row.values) ? row.values.slice(1) : []
    rows.push({ line, cells: Array.from(values, cellText) })
  })
  return { rows }
}

const END_OF_DIRECTORY = 0x06_05_4b_50
const ENTRY = 0x02_01_4b_50

/**
 * Bytes that the files of a ZIP archive have by its own directory (PKWARE APPNOTE 4.3.12 and 4.3.16); null where it has
 * none. An archive that lies is held by the memory of the thread that reads it.
 */
function unpackedBytes(content: Buffer): number | null {
  const end = content.lastIndexOf(Buffer.from('504b0506', 'hex'))
  if (end < 0 || end + 22 > content.length || content.readUInt32LE(end) !== END_OF_DIRECTORY) {
    return null
  }
  const count = content.readUInt16LE(end + 10)
  let at = content.readUInt32LE(end + 16)
  let bytes = 0
  for (let entry = 0; entry < Math.min(count, MOST_FILES); entry++) {
    if (at + 46 > content.length || content.readUInt32LE(at) !== ENTRY) {
      return null
    }
    bytes += content.readUInt32LE(at + 24)
    at += 46 + content.readUInt16LE(at + 28) + content.readUInt16LE(at + 30) + content.readUInt16LE(at + 32)
  }
  return count > MOST_FILES ? Infinity : bytes
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
