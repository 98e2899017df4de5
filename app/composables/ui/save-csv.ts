import { saveBlob } from './save-blob'

/** Gives lines of cells to the person as a CSV file that spreadsheets read as UTF-8. */
export async function saveCsv(lines: readonly (readonly string[])[], name: string): Promise<void> {
  const { unparse } = await import('papaparse')
  saveBlob(new Blob(['\uFEFF', unparse(lines as string[][])], { type: 'text/csv' }), name)
}
