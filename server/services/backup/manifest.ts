import { createHash } from 'node:crypto'
import { createReadStream, readFileSync } from 'node:fs'
import { stat } from 'node:fs/promises'
import path from 'node:path'
import type { ClientBase } from 'pg'
import * as z from 'zod'
import { shippedFiles } from '~~/server/utils/shipped-files'

/** What a backup says of itself: the file manifest.json in its archive. */
export const Manifest = z.object({
  format: z.literal('tsumiki backup 1'),
  madeAt: z.string(),
  company: z.string(),
  /** When the last change of the tables was written that the database has seen, in milliseconds since 1970. */
  tables: z.number(),
  postgres: z.string(),
  /** The beginning of a digest of the key by which cookies are sealed: which key belongs to it. */
  keyFingerprint: z.string(),
  database: z.object({ file: z.literal('database.dump'), bytes: z.number(), sha256: z.string() }),
  /** Rows of what matters, counted in the same moment as the database was written. */
  contents: z.record(z.string(), z.number()),
})
export type Manifest = z.infer<typeof Manifest>

const COUNTED = [
  'items',
  'users',
  'pictures',
  'postings',
  'moves',
  'sales_orders',
  'purchase_orders',
  'builds',
] as const

/** Rows of what matters, as one connection sees them; tables that an older Tsumiki has not made yet are left out. */
export async function countContents(client: ClientBase): Promise<Record<string, number>> {
  const { rows: there } = await client.query<{ name: string }>(
    `select tablename as name from pg_tables where schemaname = 'public' and tablename = any($1)`,
    [COUNTED],
  )
  const counts = there.map(({ name }) => `(select count(*)::int from ${name}) as ${name}`).join(', ')
  const { rows } = await client.query<Record<string, number>>(`select ${counts}`)
  return rows[0]!
}

/** When the newest change of the tables was written that this program knows. */
export function newestTables(): number {
  const file = path.join(shippedFiles('migrations'), 'meta/_journal.json')
  const { entries } = JSON.parse(readFileSync(file, 'utf8')) as { entries: { when: number }[] }
  return Math.max(...entries.map((entry) => entry.when))
}

export async function digestOfFile(file: string): Promise<{ bytes: number; sha256: string }> {
  const hash = createHash('sha256')
  for await (const chunk of createReadStream(file)) {
    hash.update(chunk as Buffer)
  }
  return { bytes: (await stat(file)).size, sha256: hash.digest('hex') }
}
