import { sql } from 'drizzle-orm'
import { db, rows } from '~~/server/database/client'
import { MEASURED_ITEM } from '~~/server/database/sql'
import type { ReturnableLine, ReturnRow } from '~~/shared/purchasing/answers'

/** What went back to the supplier of an order, newest first, and what they gave for it. */
export const loadReturns = (orderId: number): Promise<ReturnRow[]> =>
  rows<ReturnRow>(
    db,
    sql`
      select
        r.id, r.number, r.posting_id as "postingId", o.effective_on as "returnedOn", r.line_id as "lineId", i.code, i.symbol,
        trim_scale(r.quantity)::text as quantity, r.reason, r.reference, r.expects,
        r.expected::text as expected, r.is_reversed as "isReversed",
        (
          select
            json_build_object(
              'id', v.id, 'kind', v.kind, 'number', v.number, 'on', v.invoiced_on, 'amount', v.returned::text
            )
          from supplier_invoices v
          where v.return_id = r.id and v.cancelled_id is null
          limit 1
        ) as settled
      from supplier_returns r
      join purchase_lines l on l.id = r.line_id
      join ${MEASURED_ITEM} i on i.id = l.item_id
      join postings o on o.id = r.posting_id
      where r.order_id = ${orderId}
      order by r.id desc`,
  )

/**
 * What came of an order and could go back, and where it lies: first the lots that came by it, and what cannot be used.
 * Quantities in the stock unit.
 */
export const loadReturnable = (orderId: number): Promise<ReturnableLine[]> =>
  rows<ReturnableLine>(
    db,
    sql`
      select
        l.id as "lineId", i.id as "itemId", i.code, i.name, i.symbol,
        trim_scale(l.received - coalesce(back.quantity, 0))::text as quantity,
        coalesce(
          (
            select
              json_agg(
                json_build_object(
                  'binId', p.id, 'bin', p.name, 'lotId', b.lot_id, 'lot', coalesce(n.number, ''), 'pieceId',
                  b.piece_id, 'piece', coalesce(c.label, ''), 'status', b.status, 'quantity',
                  trim_scale(b.on_hand - b.allocated)::text
                )
                order by
                  not exists (select 1 from moves m where m.document_line_id = l.id and m.lot_id = b.lot_id),
                  b.status = 'available', p.pick_order, b.id
              )
            from balances b
            join places p on p.id = b.place_id and p.kind = 'bin'
            left join lots n on n.id = b.lot_id
            left join pieces c on c.id = b.piece_id
            where b.item_id = l.item_id and b.on_hand > b.allocated
          ),
          '[]'
        ) as places
      from purchase_lines l
      join ${MEASURED_ITEM} i on i.id = l.item_id
      left join lateral (
        select sum(r.quantity) as quantity
        from supplier_returns r
        where r.line_id = l.id and r.expects <> 'replacement' and not r.is_reversed
      ) back on true
      where l.order_id = ${orderId} and i.kind <> 'service' and l.received > coalesce(back.quantity, 0)
      order by l.line`,
  )
