import * as z from 'zod'
import { Id, Text } from '../primitives'
import { IMPORTS, TABLES, type ImportName } from './words'

export const ImportFiles = z.object({
  files: z
    .array(
      z.object({
        name: z.string().regex(/^[a-z-]+\.csv$/, 'Name each file as the list beside it says, for example items.csv.'),
        text: z.string().max(20_000_000, 'Keep a file under 20 MB.'),
      }),
    )
    .min(1, 'Choose at least one file.'),
})
const table = z.enum(TABLES, 'There is no such table.')

/** For each column of a table, the heading of the file that it is read from; null where it is left out. */
export const Mapping = z.record(z.string(), z.string().nullable())
export type Mapping = z.output<typeof Mapping>

export const NewImport = z.object({
  table: z.enum(IMPORTS, 'There is no such table.'),
  fileName: Text('a file name', 200),
  content: z.base64('The file could not be read.').max(40_000_000, 'Keep a file under 30 MB.'),
})
export const ImportMapping = z.object({ mapping: Mapping })
/** The columns as they were looked at last; without them, as they were stored. */
export const ApplyImport = z.object({ mapping: Mapping.optional() })
export const BatchParam = z.object({ id: Id })
export const TableParam = z.object({ table })
export const ExportQuery = z.object({ format: z.enum(['csv', 'xlsx']).default('csv') })

/** One thing that is wrong in a file: the table it fills, its line as a spreadsheet counts, and its column. */
export interface FileFault {
  readonly file: Exclude<ImportName, 'indented-bills' | 'structures'>
  readonly line: number
  readonly column: string
  readonly text: string
  readonly detail: string
}

/** What a file would change, before it is taken in. */
export interface ImportPreview {
  readonly id: number
  readonly table: ImportName
  readonly fileName: string
  readonly headings: readonly string[]
  readonly mapping: Mapping
  readonly columns: readonly { readonly name: string; readonly needed: boolean }[]
  readonly rows: number
  readonly made: number
  readonly changed: number
  readonly same: number
  readonly faults: readonly FileFault[]
  /** What it would change elsewhere without a line of its own, a sentence each. */
  readonly effects: readonly string[]
  /** The first lines of the file, as it has them. */
  readonly sample: readonly Readonly<Record<string, string>>[]
}
