import { sql } from 'drizzle-orm'
import { db, rows } from '~~/server/database/client'
import { MEASURED_ITEM, notReversed } from '~~/server/database/sql'
import type { TraceNode } from '../../../shared/stock/answers'
import { keyText, type Key } from './trace-step'

/** A thing that a trail reaches, over how many levels, and whether that is only possible. */
export interface Reached {
  readonly key: Key
  readonly level: number
  readonly possible: boolean
}

/** What there is to say of everything that a trail reaches. */
export async function describeNodes(found: readonly Reached[]): Promise<TraceNode[]> {
  const described = await rows<Omit<TraceNode, 'id' | 'possible'>>(
    db,
    sql`
      with found as (
        select *
        from jsonb_to_recordset(${JSON.stringify(found.map(({ key, level }) => ({ ...key, level })))}::jsonb) as f(
          item int, lot int, piece int, level int
        )
      )
      select
        f.item as "itemId", i.code, i.name, f.lot as "lotId", l.number as lot, f.piece as "pieceId",
        c.label as piece, i.symbol, f.level, l.expires_on as "expiresOn",
        coalesce(
          case
            when f.piece is not null then (select sum(b.on_hand) from balances b where b.piece_id = f.piece)
            when f.lot is not null then (select sum(b.on_hand) from balances b where b.lot_id = f.lot)
          end,
          0
        )::text as "onHand",
        coalesce(
          (
            select string_agg(distinct s.name || coalesce(' ' || nullif(l.supplier_number, ''), ''), ', ')
            from moves m
            join places p on p.id = m.from_place_id and p.kind = 'supplier'
            join postings o on o.id = m.posting_id
            join purchase_orders q on o.document_kind = 'purchase order' and q.id = o.document_id
            join suppliers s on s.id = q.supplier_id
            where (f.piece is not null and m.piece_id = f.piece)
              or (f.piece is null and f.lot is not null and m.lot_id = f.lot)
          ),
          ''
        ) as "madeFrom",
        coalesce(
          (
            select string_agg(distinct c2.name || ' ' || q.number, ', ')
            from moves m
            join places p on p.id = m.to_place_id and p.kind = 'customer'
            join postings o on o.id = m.posting_id
              and ${notReversed('o.id')}
            join sales_orders q on o.document_kind = 'sales order' and q.id = o.document_id
            join customers c2 on c2.id = q.customer_id
            where (f.piece is not null and m.piece_id = f.piece)
              or (f.piece is null and f.lot is not null and m.lot_id = f.lot)
          ),
          ''
        ) as "shippedTo"
      from found f
      join ${MEASURED_ITEM} i on i.id = f.item
      left join lots l on l.id = f.lot
      left join pieces c on c.id = f.piece
      order by f.level, i.code, l.number, c.label`,
  )
  const isPossible = new Map(found.map((reached) => [keyText(reached.key), reached.possible]))
  return described.map((node) => {
    const id = keyText({ item: node.itemId, lot: node.lotId, piece: node.pieceId })
    return { ...node, id, possible: isPossible.get(id) ?? false }
  })
}
