import { sql } from 'drizzle-orm'
import { db, rows } from '~~/server/database/client'
import { MEASURED_ITEM } from '~~/server/database/sql'
import type { Arrival } from '~~/shared/purchasing/arrivals'

/**
 * What is to arrive, an entry for each order or transfer and day: open purchase order lines, and goods on their way
 * between sites. Soonest first.
 */
export const listArrivals = (): Promise<Arrival[]> =>
  rows<Arrival>(
    db,
    sql`
      select
        'purchase:' || o.id as document, l.due_on as day, o.number, s.name as "from", '/purchasing/' || o.id as link,
        json_agg(
          json_build_object(
            'code', i.code, 'quantity', trim_scale(l.quantity - l.received)::text, 'symbol', i.symbol
          )
          order by l.line
        ) as lines
      from purchase_lines l
      join purchase_orders o on o.id = l.order_id
      join suppliers s on s.id = o.supplier_id
      join ${MEASURED_ITEM} i on i.id = l.item_id
      where o.status = 'open' and not l.closed_short and l.received < l.quantity
      group by o.id, o.number, s.name, l.due_on
      union all
      select
        'transfer:' || t.id, t.due_on, t.number, f.name || ' → ' || s.name, '/stock/transfers/' || t.id,
        json_agg(
          json_build_object(
            'code', i.code, 'quantity', trim_scale(l.shipped - l.received - l.lost)::text, 'symbol', i.symbol
          )
          order by l.line
        )
      from transfer_lines l
      join transfers t on t.id = l.transfer_id
      join sites f on f.id = t.from_site_id
      join sites s on s.id = t.to_site_id
      join ${MEASURED_ITEM} i on i.id = l.item_id
      where t.status = 'open' and l.shipped > l.received + l.lost
      group by t.id, t.number, f.name, s.name, t.due_on
      order by 2, 3`,
  )
