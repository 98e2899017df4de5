import { sql, type SQL } from 'drizzle-orm'

/**
 * What is called off of a blanket line, in the stock unit: what its orders want, and what came of a line that was given
 * up. Orders that are cancelled call nothing off.
 */
export const calledOf = (lineId: SQL): SQL => sql`
  coalesce(
    (
      select sum(case when k.closed_short then least(k.received, k.quantity) else k.quantity end)
      from purchase_lines k
      join purchase_orders p on p.id = k.order_id and p.status <> 'cancelled'
      where k.blanket_line_id = ${lineId}
    ),
    0
  )`
