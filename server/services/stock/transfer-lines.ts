import { sql } from 'drizzle-orm'
import { rows, type Reader } from '~~/server/database/client'
import { transferLines, transfers } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'

export type Transfer = typeof transfers.$inferSelect

export type Line = typeof transferLines.$inferSelect

export function lineOf(lines: readonly Line[], id: number): Line {
  const line = lines.find((line) => line.id === id)
  if (!line) {
    throw new Refusal('invalid-input', 'A line of this transfer is gone. Reload the page.')
  }
  return line
}

export async function siteName(reader: Reader, id: number): Promise<string> {
  const [site] = await rows<{ name: string }>(reader, sql`select name from sites where id = ${id}`)
  return site?.name ?? 'the site'
}
