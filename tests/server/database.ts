import { sql } from 'drizzle-orm'
import { beforeAll } from 'vitest'
import { db, pool, rows, type Tx } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { prepareDatabase } from '~~/server/services/company/prepare'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'

/** The demo company in the throw-away database that the test run made; each file begins anew. */
export function withDemo(): void {
  beforeAll(async () => {
    await pool.query('drop schema public cascade; create schema public; drop schema if exists drizzle, jobs cascade')
    await prepareDatabase('demo')
  })
}

export const owner: Actor = { userId: 1, name: 'Ines Hartwell', role: 'owner', today: '2026-10-05' }

export async function idOf(
  table: 'items' | 'places' | 'suppliers' | 'customers' | 'item_groups' | 'sites' | 'units',
  code: string,
): Promise<number> {
  const [row] = await rows<{ id: number }>(db, sql`select id from ${sql.identifier(table)} where code = ${code}`)
  if (!row) {
    throw new Error(`No ${code} in ${table}`)
  }
  return row.id
}

export async function onHand(code: string): Promise<string> {
  const [row] = await rows<{ quantity: string }>(
    db,
    sql`
      select trim_scale(coalesce(sum(b.on_hand), 0))::text as quantity
      from balances b
      join items i on i.id = b.item_id
      where i.code = ${code}`,
  )
  return row!.quantity
}

export async function valueOf(code: string): Promise<string> {
  const [row] = await rows<{ value: string }>(
    db,
    sql`
      select coalesce(sum(h.value), 0)::text as value
      from holdings h
      join items i on i.id = h.item_id
      where i.code = ${code}`,
  )
  return row!.value
}

/** The refusal with which an act ends; fails where it does not. */
export async function refusalOf(act: (tx: Tx) => Promise<unknown>): Promise<Refusal> {
  try {
    await inTransaction(act)
  } catch (error) {
    if (error instanceof Refusal) {
      return error
    }
    throw error
  }
  throw new Error('It was not refused')
}
