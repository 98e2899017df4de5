import { sql } from 'drizzle-orm'
import type * as z from 'zod'
import { db } from '~~/server/database/client'
import { anywhere, namedColumns, readPage } from '~~/server/database/sql'
import type { PurchaseQuery } from '~~/shared/purchasing/requests'
import type { Paged } from '~~/shared/primitives'
import type { PurchaseState } from '~~/shared/purchasing/state'
import { purchaseState } from './purchase-state'

export interface PurchaseOrderRow {
  id: number
  number: string
  supplierId: number
  supplier: string
  orderedOn: string
  dueOn: string
  status: string
  state: PurchaseState
  version: number
  lines: number
  openLines: number
  summary: string
}

const PURCHASE_COLUMNS = namedColumns({
  dueOn: 'day',
  number: 'text',
  supplier: 'text',
  orderedOn: 'day',
  summary: 'text',
  status: 'text',
  state: 'text',
  lines: 'number',
  openLines: 'number',
})

/** Purchase orders, soonest due first. */
export async function listPurchases(query: z.output<typeof PurchaseQuery>): Promise<Paged<PurchaseOrderRow>> {
  const like = anywhere(query.search)
  const from = sql`
    (
      select
        o.id, o.number, o.supplier_id as "supplierId", s.name as supplier, o.ordered_on as "orderedOn",
        o.status, o.version, ${purchaseState(sql`o`)} as state, (select min(l.due_on) from purchase_lines l where l.order_id = o.id) as "dueOn",
        (select count(*)::int from purchase_lines l where l.order_id = o.id and l.replaces_line_id is null) as lines,
        (
          select count(*)::int
          from purchase_lines l
          where l.order_id = o.id and l.received < l.quantity and not l.closed_short
        ) as "openLines",
        (
          select string_agg(
            l.entered || ' ' || (select symbol from units where code = l.unit) || ' ' || i.code, ', '
            order by l.line
          )
          from purchase_lines l
          join items i on i.id = l.item_id
          where l.order_id = o.id and l.replaces_line_id is null
        ) as summary
      from purchase_orders o
      join suppliers s on s.id = o.supplier_id
      where (${query.supplierId ?? null}::int is null or o.supplier_id = ${query.supplierId ?? null})
        and (
          ${query.status} in ('', 'open', 'done')
            and (${query.status} = '' or (${query.status} = 'open') = (o.status = 'open'))
          or ${purchaseState(sql`o`)} = ${query.status}
        )
    ) list`
  const where = sql`
    (
      ${query.search} = ''
        or number ilike ${like}
        or supplier ilike ${like}
        or exists (
          select 1
          from purchase_lines l
          join items i on i.id = l.item_id
          where l.order_id = list.id and (i.code ilike ${like} or i.name ilike ${like})
        )
    )`
  return readPage<PurchaseOrderRow>(db, query, {
    from,
    where,
    columns: PURCHASE_COLUMNS,
    usual: sql`(status <> 'open'), "dueOn", number`,
  })
}
