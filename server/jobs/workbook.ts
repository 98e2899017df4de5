import { readWorkbook, type WorkbookAnswer } from '~~/server/services/catalogue/tables/workbook'

export interface WorkbookTask {
  readonly content: Uint8Array
}

/** Reads a workbook in a thread of its own. */
export default function readInThread({ content }: WorkbookTask): Promise<WorkbookAnswer> {
  return readWorkbook(Buffer.from(content.buffer, content.byteOffset, content.byteLength))
}
