import { existsSync } from 'node:fs'
import path from 'node:path'

const IN_SOURCE = {
  migrations: 'server/database/migrations',
  demo: 'demo',
  fonts: 'node_modules/pdfmake/fonts/Roboto',
  worker: '.output/server/worker',
  'openapi.json': '.output/server/openapi.json',
} as const

/** The folder, or the file, of what ships beside the built server; the project's own where it runs from source. */
export function shippedFiles(name: keyof typeof IN_SOURCE): string {
  const beside = path.join(path.dirname(process.argv[1] ?? '.'), name)
  return existsSync(beside) ? beside : path.resolve(IN_SOURCE[name])
}
