import { sql } from 'drizzle-orm'
import { db, rows } from '~~/server/database/client'
import { MEASURED_ITEM } from '~~/server/database/sql'
import { Refusal } from '~~/server/utils/refusal'
import type { InspectionPage } from '~~/shared/inspection/answers'
import { loadPostings, type PostingRow } from '../../ledger/postings'
import { heldFor } from './held-goods'

/** An inspection with its goods and what was found. Errors: `not-found`. */
export async function loadInspection(id: number): Promise<InspectionPage & { readonly postings: PostingRow[] }> {
  const [found] = await rows<Omit<InspectionPage, 'goods'>>(
    db,
    sql`
      select
        n.id, n.number, n.status, n.plan_id as "planId", n.plan, n.item_id as "itemId", i.code, i.name, i.symbol,
        i.decimals, i.stock_unit as "stockUnit", i.tracking, n.supplier_id as "supplierId", s.name as supplier,
        o.label as source, case when o.document_kind = 'purchase order' then o.document_id end as "orderId",
        case when o.document_kind = 'build' then o.document_id end as "buildId", n.opened_on as "openedOn", n.letter,
        n.sample_size as "sampleSize", n.accept, n.samples, n.instrument, n.picture_id as "pictureId", n.decision,
        n.reason, n.failed, trim_scale(n.accepted)::text as accepted, trim_scale(n.rejected)::text as rejected,
        (select name from users where id = n.decided_by) as "decidedBy", n.decided_on as "decidedOn",
        n.decision_id as "decisionId", n.version, g.quantity, coalesce(g.lots, '') as lots,
        (
          select
            json_build_object(
              'decided', count(*), 'rejected', count(*) filter (where b.decision in ('sorted', 'rejected'))
            )
          from inspections b
          where b.item_id = n.item_id and b.plan_id = n.plan_id and b.status = 'decided' and b.id <> n.id
        ) as before
      from inspections n
      join ${MEASURED_ITEM} i on i.id = n.item_id
      join postings o on o.id = n.posting_id
      left join suppliers s on s.id = n.supplier_id
      join lateral (
        select trim_scale(sum(g.quantity))::text as quantity, string_agg(distinct l.number, ', ') as lots
        from inspection_goods g
        left join lots l on l.id = g.lot_id
        where g.inspection_id = n.id
      ) g on true
      where n.id = ${id}`,
  )
  if (!found) {
    throw new Refusal('not-found', 'There is no such inspection.')
  }
  const goods = found.status === 'open' ? await heldFor(db, id) : []
  return {
    ...found,
    goods: goods.map(({ bin, pieceId, piece, quantity }) => ({ bin, pieceId, piece, quantity })),
    postings: await loadPostings('inspection', id),
  }
}
