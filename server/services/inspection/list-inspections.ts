import { sql } from 'drizzle-orm'
import type * as z from 'zod'
import { db } from '~~/server/database/client'
import { anywhere, MEASURED_ITEM, namedColumns, readPage } from '~~/server/database/sql'
import type { InspectionRow } from '~~/shared/inspection/answers'
import type { InspectionQuery } from '~~/shared/inspection/requests'
import type { Paged } from '~~/shared/primitives'

const COLUMNS = namedColumns({
  number: 'text',
  status: 'text',
  code: 'text',
  name: 'text',
  lots: 'text',
  quantity: 'number',
  source: 'text',
  supplier: 'text',
  openedOn: 'day',
  days: 'number',
  plan: 'text',
  sampleSize: 'number',
  decision: 'text',
  failed: 'number',
  accepted: 'number',
  rejected: 'number',
})

/** Inspections, those that wait longest first, then the latest that were decided. */
export async function listInspections(
  query: z.output<typeof InspectionQuery>,
  today: string,
): Promise<Paged<InspectionRow>> {
  const like = anywhere(query.search)
  const from = sql`
    (
      select
        n.id, n.number, n.status, n.item_id as "itemId", i.code, i.name, i.symbol, coalesce(g.lots, '') as lots,
        g.quantity, o.label as source, coalesce(s.name, '') as supplier, n.opened_on as "openedOn",
        coalesce(n.decided_on, ${today}::date) - n.opened_on as days, n.plan->>'name' as plan,
        n.sample_size as "sampleSize", n.decision, n.failed, trim_scale(n.accepted) as accepted,
        trim_scale(n.rejected) as rejected
      from inspections n
      join ${MEASURED_ITEM} i on i.id = n.item_id
      join postings o on o.id = n.posting_id
      left join suppliers s on s.id = n.supplier_id
      join lateral (
        select trim_scale(sum(g.quantity)) as quantity, string_agg(distinct l.number, ', ') as lots
        from inspection_goods g
        left join lots l on l.id = g.lot_id
        where g.inspection_id = n.id
      ) g on true
      where (${query.status} = '' or n.status = ${query.status})
        and (${query.item}::int is null or n.item_id = ${query.item})
        and (${query.supplier}::int is null or n.supplier_id = ${query.supplier})
        and (${query.plan}::int is null or n.plan_id = ${query.plan})
    ) list`
  return readPage<InspectionRow>(db, query, {
    from,
    where: sql`
      (
        ${query.search} = ''
          or number ilike ${like}
          or code ilike ${like}
          or name ilike ${like}
          or lots ilike ${like}
          or source ilike ${like}
      )`,
    columns: COLUMNS,
    usual: sql`status <> 'open', case when status = 'open' then id else -id end`,
  })
}
