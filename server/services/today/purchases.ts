import { sql } from 'drizzle-orm'
import { toDay, toIso } from '~~/core/calendar/days'
import { db, rows } from '~~/server/database/client'
import { MEASURED_ITEM } from '~~/server/database/sql'
import { purchaseState } from '../purchasing/purchase-state'
import { MANY, quantity, type TodayLine } from './today-line'

/** Days that a supplier has to confirm an order before it is asked after. */
const PATIENCE = 3
const openLines = sql`
  string_agg(
    ${quantity(sql`l.quantity - l.received`)} || ' ' || i.symbol || ' ' || i.code, ', ' order by l.line
  )`
/** Orders with their lines that are still to come. */
const openOrders = sql`
  purchase_orders o
  join suppliers s on s.id = o.supplier_id
  join purchase_lines l on l.order_id = o.id and l.received < l.quantity and not l.closed_short
  join ${MEASURED_ITEM} i on i.id = l.item_id`

/** Orders that were entered before today, and that the supplier does not know of. */
export const toSend = (today: string): Promise<TodayLine[]> =>
  rows<TodayLine>(
    db,
    sql`
      select
        'purchasing' as area, 'send:' || o.id as id, o.ordered_on as day, o.number || ' ' || s.name as title,
        'not sent: ' || ${openLines} as detail, 'Send' as act, '/purchasing/' || o.id as link, false as urgent
      from ${openOrders}
      where o.status = 'open' and o.ordered_on < ${today} and ${purchaseState(sql`o`)} = 'draft'
      group by o.id, o.number, s.name
      order by 3
      limit ${MANY}`,
  )

/** Orders that were sent some days ago, and that the supplier has not confirmed. */
export const toChase = (today: string): Promise<TodayLine[]> =>
  rows<TodayLine>(
    db,
    sql`
      select
        'purchasing' as area, 'confirm:' || o.id as id, o.sent_on as day, o.number || ' ' || s.name as title,
        'not confirmed: ' || ${openLines} as detail, 'Ask the supplier' as act, '/purchasing/' || o.id as link,
        false as urgent
      from ${openOrders}
      where o.status = 'open' and o.sent_on <= ${toIso(toDay(today) - PATIENCE)} and ${purchaseState(sql`o`)} = 'sent'
      group by o.id, o.number, s.name
      order by 3
      limit ${MANY}`,
  )

/** Requests for quotations that somebody has not answered by the day on which answers were wanted. */
export const toAskAgain = (today: string): Promise<TodayLine[]> =>
  rows<TodayLine>(
    db,
    sql`
      select
        'purchasing' as area, 'quotation:' || r.id as id, r.answer_by as day, 'Quotation request ' || r.number as title,
        'not answered by ' || string_agg(s.name, ', ' order by s.name) as detail, 'Remind' as act,
        '/purchasing/quotations/' || r.id as link, false as urgent
      from quotation_requests r
      join quotations q on q.request_id = r.id and q.sent_on is not null and q.answered_on is null
      join suppliers s on s.id = q.supplier_id
      where r.status = 'open' and r.answer_by < ${today} and coalesce(q.reminded_on + ${PATIENCE}::int, r.answer_by) < ${today}
      group by r.id
      order by 3
      limit ${MANY}`,
  )

/** Requests for quotations that everybody has answered: somebody decides. */
export const toTake = (): Promise<TodayLine[]> =>
  rows<TodayLine>(
    db,
    sql`
      select
        'purchasing' as area, 'quoted:' || r.id as id, max(q.answered_on) as day,
        'Quotation request ' || r.number as title, count(*) || ' quotations to compare' as detail, 'Compare' as act,
        '/purchasing/quotations/' || r.id as link, false as urgent
      from quotation_requests r
      join quotations q on q.request_id = r.id
      where r.status = 'open'
      group by r.id
      having bool_and(q.answered_on is not null) and bool_or(not q.is_declined)
      order by 3
      limit ${MANY}`,
  )

/** What is due within two days, or was. */
export const toReceive = (today: string): Promise<TodayLine[]> =>
  rows<TodayLine>(
    db,
    sql`
      select
        'purchasing' as area, 'purchase:' || o.id as id, min(l.due_on) as day,
        o.number || ' ' || s.name as title,
        ${openLines} as detail,
        'Receive' as act, '/purchasing/' || o.id as link, min(l.due_on) < ${today} as urgent
      from ${openOrders}
      where o.status = 'open' and l.due_on <= ${toIso(toDay(today) + 2)}
      group by o.id, o.number, s.name
      order by 3
      limit ${MANY}`,
  )
