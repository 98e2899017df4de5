import { eq, sql } from 'drizzle-orm'
import { db, rows } from '~~/server/database/client'
import { batches } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { FileFault } from '~~/shared/catalogue/import'
import type { ImportName } from '~~/shared/catalogue/words'

/** The files that were taken in last, and what was set at once; of one table, where it is named. */
export const listBatches = (table: ImportName | null = null) =>
  rows<{
    id: number
    kind: string
    table: string
    label: string
    who: string
    at: string
    state: string
    rows: number
    made: number
    changed: number
  }>(
    db,
    sql`
      select b.id, b.kind, b.table, b.label, u.name as who, b.at, b.state, b.rows, b.made, b.changed
      from batches b
      join users u on u.id = b.user_id
      where b.state <> 'open' and (${table}::text is null or b.table = ${table})
      order by b.id desc
      limit 50`,
  )

/** How far the work on a batch has come. */
export async function progressOf(id: number): Promise<{ progress: number; state: string }> {
  const [batch] = await db
    .select({ progress: batches.progress, state: batches.state })
    .from(batches)
    .where(eq(batches.id, id))
  if (!batch) {
    throw new Refusal('not-found', 'There is no such file.')
  }
  return batch
}

/** Errors: `not-found` where there is no such file of that table. */
export async function requireTable(id: number, table: ImportName): Promise<void> {
  const [batch] = await db.select({ table: batches.table }).from(batches).where(eq(batches.id, id))
  if (batch?.table !== table) {
    throw new Refusal('not-found', 'There is no such file.')
  }
}

export async function stopBatch(id: number): Promise<{ id: number }> {
  const found = await db.update(batches).set({ stopped: true }).where(eq(batches.id, id)).returning({ id: batches.id })
  if (found.length === 0) {
    throw new Refusal('not-found', 'There is no such file.')
  }
  return { id }
}

/** The faults of a file as a CSV beside the file. */
export function faultsAsRows(faults: readonly FileFault[]): string[][] {
  return [
    ['line', 'column', 'text', 'fault'],
    ...faults.map((fault) => [String(fault.line), fault.column, fault.text, fault.detail]),
  ]
}
