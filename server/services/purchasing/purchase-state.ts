import { sql, type SQL } from 'drizzle-orm'

/** How far a purchase order is (`PurchaseState`), of a row `o` of `purchase_orders`. */
export const purchaseState = (o: SQL): SQL => sql`
  (
    select
      case
        when ${o}.status = 'cancelled' then 'cancelled'
        when ${o}.status = 'done' and bool_or(l.closed_short and l.received < l.quantity) then 'closed short'
        when ${o}.status = 'done' then 'received'
        when bool_or(l.received > 0) then 'received in part'
        when bool_and(l.confirmed_on is not null or l.closed_short) then 'confirmed'
        when ${o}.sent_on is not null then 'sent'
        else 'draft'
      end
    from purchase_lines l
    where l.order_id = ${o}.id
  )`
