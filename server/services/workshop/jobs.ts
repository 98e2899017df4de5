import { sql } from 'drizzle-orm'
import { db, rows } from '~~/server/database/client'

export interface JobRow { kind: 'build' | 'break-down', id: number, number: string, itemId: number, code: string, name: string, source: string, quantity: string, symbol: string, releaseOn: string | null, dueOn: string, status: string }

/** Builds, kit packings and break-downs, planned ones first, soonest due first. */
export function listJobs(): Promise<JobRow[]> {
  return rows<JobRow>(db, sql`
    select * from (
      select 'build' as kind, b.id, b.number, b.item_id as "itemId", i.code, i.name, i.source, b.quantity, u.symbol, b.release_on as "releaseOn", b.due_on as "dueOn", b.status from builds b join items i on i.id = b.item_id join units u on u.code = i.stock_unit
      union all
      select 'break-down', d.id, d.number, d.item_id, i.code, i.name, i.source, d.times * r.take, r.unit, null, d.due_on, d.status from break_downs d join items i on i.id = d.item_id join recipes r on r.id = d.recipe_id) j
    order by (status <> 'planned'), "dueOn", number limit 500`)
}
