import { afterAll, beforeAll } from 'vitest'
import { pool, rows, db } from '~~/server/database/client'
import { prepareDatabase } from '~~/server/services/company/prepare'
import type { Actor } from '~~/server/utils/route'
import { sql } from 'drizzle-orm'

/** The demo company in the throw-away database that the test run made; each file begins anew. */
export function withDemo(): void {
  beforeAll(async () => {
    await pool.query('drop schema public cascade; create schema public; drop schema if exists drizzle cascade')
    await prepareDatabase('demo')
  })
}

export const closeAfter = (): void => { afterAll(() => pool.end()) }

export const owner: Actor = { userId: 1, name: 'Ines Hartwell', role: 'owner', today: '2026-10-05' }

export async function idOf(table: 'items' | 'places' | 'suppliers' | 'customers', code: string): Promise<number> {
  const [row] = await rows<{ id: number }>(db, sql`select id from ${sql.identifier(table)} where code = ${code}`)
  if (!row) throw new Error(`No ${code} in ${table}`)
  return row.id
}

export async function onHand(code: string): Promise<string> {
  const [row] = await rows<{ quantity: string }>(db, sql`select trim_scale(coalesce(sum(b.on_hand), 0))::text as quantity from balances b join items i on i.id = b.item_id where i.code = ${code}`)
  return row!.quantity
}
