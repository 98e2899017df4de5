import Papa from 'papaparse'
import { Refusal } from '~~/server/utils/refusal'

export type Row = Readonly<Record<string, string>>
/** Texts of files by their names. */
export type Files = ReadonlyMap<string, string>
export interface Imported {
  readonly file: string
  readonly rows: number
}

export function readRows(files: Files, file: string): Row[] {
  const text = files.get(`${file}.csv`)
  if (text === undefined) {
    return []
  }
  const read = Papa.parse<Row>(text.trim(), {
    header: true,
    skipEmptyLines: true,
    transformHeader: (name) => name.trim(),
    transform: (value) => value.trim(),
  })
  const wrong = read.errors.find((error) => error.code !== 'UndetectableDelimiter')
  if (wrong) {
    throw new Refusal('invalid-input', `${file}.csv line ${(wrong.row ?? 0) + 2}: ${wrong.message}.`)
  }
  return read.data
}

/** Runs one line; its refusal is told with the file and the line. */
async function onLine<T>(where: string, act: () => Promise<T>): Promise<T> {
  try {
    return await act()
  } catch (error) {
    if (error instanceof Refusal) {
      throw new Refusal(error.code, `${where}: ${error.detail}`)
    }
    throw error
  }
}

export async function eachOrder(
  files: Files,
  file: string,
  done: Imported[],
  act: (number: string, lines: Row[]) => Promise<void>,
): Promise<void> {
  const all = readRows(files, file)
  const first = new Map<string, number>()
  all.forEach((row, index) => {
    if (!first.has(row.number!)) {
      first.set(row.number!, index)
    }
  })
  for (const [number, index] of first) {
    await onLine(`${file}.csv line ${index + 2}`, () =>
      act(
        number,
        all.filter((row) => row.number === number),
      ),
    )
  }
  if (files.has(`${file}.csv`)) {
    done.push({ file: `${file}.csv`, rows: all.length })
  }
}

/** Takes a file in line by line. */
export async function eachLine(
  { files, done }: { readonly files: Files; readonly done: Imported[] },
  file: string,
  act: (row: Row) => Promise<void>,
): Promise<void> {
  const list = readRows(files, file)
  for (const [index, row] of list.entries()) {
    await onLine(`${file}.csv line ${index + 2}`, () => act(row))
  }
  if (files.has(`${file}.csv`)) {
    done.push({ file: `${file}.csv`, rows: list.length })
  }
}
