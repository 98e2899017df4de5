import { unparse } from 'papaparse'
import { saveBlob } from './save-blob'

/** Gives lines of cells to the person as a CSV file that spreadsheets read as UTF-8. */
export function saveCsv(lines: readonly (readonly string[])[], name: string): void {
  saveBlob(new Blob(['\uFEFF', unparse(lines as string[][])], { type: 'text/csv' }), name)
}
