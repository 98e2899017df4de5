import { sql, type SQL } from 'drizzle-orm'
import { rows, type Reader } from '~~/server/database/client'
import { anyOf, MEASURED_ITEM, notReversed } from '~~/server/database/sql'
import type { ReceivedGoods } from '~~/shared/purchasing/answers'
import { isOfLine, RECEIPTS, SITE_OF_RECEIPT } from './receipts'

/** As many receipts are offered to spread a charge over. */
const MOST = 300

/**
 * Goods that came in by receipts which stand, with what they cost by order and invoices, charges left aside: oldest
 * first.
 */
const receivedWhere = (reader: Reader, condition: SQL): Promise<ReceivedGoods[]> =>
  rows<ReceivedGoods>(
    reader,
    sql`
      select
        m.id::int as "moveId", l.id as "lineId", l.order_id as "orderId", b.number as order, s.name as supplier,
        m.item_id as "itemId", i.code, i.name, i.symbol, i.decimals, ${SITE_OF_RECEIPT} as "siteId",
        trim_scale(m.quantity)::text as quantity, m.effective_on as day, coalesce(k.number, '') as "packingList",
        (
          m.value + m.variance + coalesce(
            (
              select sum(x.delta)
              from invoice_lines x
              join supplier_invoices v on v.id = x.invoice_id
              where x.move_id = m.id and x.charge_id is null and v.cancelled_id is null
            ),
            0
          )
        )::text as value
      from moves m
      join purchase_lines l on ${isOfLine(sql`l.id`)}
      join purchase_orders b on b.id = l.order_id
      join suppliers s on s.id = b.supplier_id
      join ${MEASURED_ITEM} i on i.id = m.item_id
      join places p on p.id = m.to_place_id
      join places f on f.id = m.from_place_id and f.kind = 'supplier'
      join postings o on o.id = m.posting_id and o.kind in ${RECEIPTS}
      left join packing_lists k on k.posting_id = o.id
      where m.basis = 'stated' and ${notReversed('o.id')} and ${condition}
      order by m.effective_on, m.id
      limit ${MOST}`,
  )

export const receivedOfOrder = (reader: Reader, orderId: number): Promise<ReceivedGoods[]> =>
  receivedWhere(reader, sql`l.order_id = ${orderId}`)

export const receivedByMoves = (reader: Reader, moveIds: readonly number[]): Promise<ReceivedGoods[]> =>
  receivedWhere(reader, anyOf(sql`m.id`, moveIds))

/** What an order brought, and what else came in the sixty days before a day: a load may have brought both. */
export const receivedAround = (reader: Reader, orderId: number, day: string): Promise<ReceivedGoods[]> =>
  receivedWhere(reader, sql`(l.order_id = ${orderId} or m.effective_on between ${day}::date - 60 and ${day}::date)`)
