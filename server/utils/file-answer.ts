import type { H3Event } from 'h3'

const TYPES = {
  csv: 'text/csv; charset=utf-8',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  pdf: 'application/pdf',
  json: 'application/json',
  xml: 'application/xml',
} as const
export type FileFormat = keyof typeof TYPES

/** Answers with a file that the browser keeps under a name. */
export function asFile<T>(event: H3Event, name: string, format: FileFormat, content: T): T {
  setResponseHeaders(event, {
    'content-type': TYPES[format],
    'content-disposition': `attachment; filename="${name.replace(/[^\w.-]+/g, '-')}.${format}"`,
  })
  return content
}
