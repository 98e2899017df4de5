import { sql } from 'drizzle-orm'
import { db, rows } from '~~/server/database/client'

/** An item that is bought by the piece, without stock and without terms of a supplier yet. */
export async function makeBought(code: string): Promise<number> {
  const [made] = await rows<{ id: number }>(
    db,
    sql`
      insert into items (
        code, name, group_id, kind, status, source, stock_unit, buying_unit, selling_unit, making_unit,
        finest_step, lead_days
      )
      select
        ${code}, ${`${code} to plan with`}, group_id, 'stocked', 'active', 'bought', stock_unit, stock_unit,
        stock_unit, stock_unit, '1', 0
      from items
      where code = 'BONE'
      returning id`,
  )
  return made!.id
}
