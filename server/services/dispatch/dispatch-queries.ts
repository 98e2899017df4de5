import { sql } from 'drizzle-orm'
import { db, rows } from '~~/server/database/client'
import { ALLOCATED, servedLines } from './serving'

export interface DispatchRow {
  id: number
  number: string
  customer: string
  dueOn: string
  /** The site that it is sent from, where the order or its customer names one. */
  site: string | null
  lines: number
  allocated: number
  fillable: number
  summary: string
}

/**
 * Open orders by due date: how many of their lines are allocated in full, and how many could be once the orders before
 * them are served.
 */
export async function listDispatch(): Promise<DispatchRow[]> {
  return rows<DispatchRow>(
    db,
    sql`
      select
        o.id, o.number, c.name as customer, o.due_on as "dueOn",
        (select name from sites where id = coalesce(o.site_id, c.site_id)) as site, count(l.id)::int as lines,
        count(*) filter (where l.shipped + l.allocated >= l.quantity or i.kind = 'service')::int as allocated,
        count(*) filter (where s.open <= s.got or i.kind = 'service')::int as fillable,
        string_agg(
          l.entered || ' ' || (select symbol from units where code = l.unit) || ' ' || i.code, ', '
          order by l.line
        ) as summary
      from sales_orders o
      join customers c on c.id = o.customer_id
      join (select l.*, ${ALLOCATED} as allocated from sales_lines l) l on l.order_id = o.id
      left join ${await servedLines(db)} s on s.id = l.id
      join items i on i.id = l.item_id
      where o.status = 'open'
      group by o.id, o.number, c.name, o.due_on, c.site_id
      order by o.due_on, o.number
      limit 500`,
  )
}
