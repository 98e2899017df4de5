import { sql } from 'drizzle-orm'
import { db, rows } from '~~/server/database/client'

export interface Found { kind: 'item' | 'sales order' | 'purchase order' | 'build' | 'break-down' | 'lot' | 'bin' | 'supplier' | 'customer', id: number, code: string, name: string }

/** Anything with a name, best match first; a few letters are enough, and typing errors are forgiven. */
export async function find(text: string): Promise<Found[]> {
  if (text === '') return []
  return rows<Found>(db, sql`
    with all_things as (
      select 'item' as kind, id, code, name, 0 as rank from items where status <> 'retired' union all
      select 'item', id, code, name || ' (retired)', 2 from items where status = 'retired' union all
      select 'sales order', o.id, o.number, c.name, 1 from sales_orders o join customers c on c.id = o.customer_id union all
      select 'purchase order', o.id, o.number, s.name, 1 from purchase_orders o join suppliers s on s.id = o.supplier_id union all
      select 'build', b.id, b.number, i.name, 1 from builds b join items i on i.id = b.item_id union all
      select 'break-down', b.id, b.number, i.name, 1 from break_downs b join items i on i.id = b.item_id union all
      select 'lot', l.item_id, l.number, i.name, 1 from lots l join items i on i.id = l.item_id union all
      select 'bin', id, code, name, 1 from places where kind = 'bin' union all
      select 'supplier', id, code, name, 1 from suppliers union all
      select 'customer', id, code, name, 1 from customers),
    scored as (
      select *, case when lower(code) = lower(${text}) then 3 when lower(code) like lower(${text}) || '%' then 2 when code || ' ' || name ilike '%' || ${text} || '%' then 1.5
        else (select avg(word_similarity(word, code || ' ' || name)) from regexp_split_to_table(${text}, '[[:space:]]+') word) end as score from all_things)
    select kind, id, code, name from scored where score > 0.4 order by score desc, rank, code limit 20`)
}
