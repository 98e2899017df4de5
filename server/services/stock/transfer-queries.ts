import { sql } from 'drizzle-orm'
import type * as z from 'zod'
import { db, rows } from '~~/server/database/client'
import { anywhere, MEASURED_ITEM, namedColumns, readPage } from '~~/server/database/sql'
import { Refusal } from '~~/server/utils/refusal'
import { loadPostings } from '../../ledger/postings'

import { onTheWay } from './on-the-way'
import type { Page, Paged } from '~~/shared/primitives'
import type { TransferLineRow } from '~~/shared/stock/answers'

export interface TransferRow {
  id: number
  number: string
  from: string
  to: string
  leavesOn: string
  dueOn: string
  status: string
  state: string
  lines: number
  summary: string
  late: boolean
}

export async function listTransfers(query: z.output<typeof Page>, today: string): Promise<Paged<TransferRow>> {
  const like = anywhere(query.search)
  const from = sql`
    (
      select
        t.id, t.number, f.name as "from", g.name as "to", t.leaves_on as "leavesOn", t.due_on as "dueOn",
        t.status, count(l.id)::int as lines, t.status = 'open' and t.due_on < ${today} as late,
        case
          when t.status <> 'open' then t.status
          when bool_or(l.shipped > l.received + l.lost) then 'on the way'
          when bool_or(l.shipped > 0) then 'part arrived'
          else 'to leave'
        end as state,
        string_agg(
          l.entered || ' ' || (select symbol from units where code = l.unit) || ' ' || i.code, ', '
          order by l.line
        ) as summary
      from transfers t
      join sites f on f.id = t.from_site_id
      join sites g on g.id = t.to_site_id
      join transfer_lines l on l.transfer_id = t.id
      join items i on i.id = l.item_id
      where ${query.search} = ''
        or t.number ilike ${like}
        or exists (
          select 1
          from transfer_lines o
          join items n on n.id = o.item_id
          where o.transfer_id = t.id and (n.code ilike ${like} or n.name ilike ${like})
        )
      group by t.id, f.name, g.name
    ) list`
  return readPage<TransferRow>(db, query, {
    from,
    where: sql`true`,
    columns: TRANSFER_COLUMNS,
    usual: sql`status = 'open' desc, "dueOn" desc, id desc`,
  })
}

const TRANSFER_COLUMNS = namedColumns({
  number: 'text',
  from: 'text',
  to: 'text',
  summary: 'text',
  leavesOn: 'day',
  dueOn: 'day',
  state: 'text',
  lines: 'number',
})

export async function loadTransfer(id: number) {
  const [transfer] = await rows<{
    id: number
    number: string
    fromSiteId: number
    toSiteId: number
    from: string
    to: string
    leavesOn: string
    dueOn: string
    status: string
    note: string
    who: string
    version: number
  }>(
    db,
    sql`
      select
        t.id, t.number, t.from_site_id as "fromSiteId", t.to_site_id as "toSiteId", f.name as "from",
        g.name as "to", t.leaves_on as "leavesOn", t.due_on as "dueOn", t.status, t.note, u.name as who,
        t.version
      from transfers t
      join sites f on f.id = t.from_site_id
      join sites g on g.id = t.to_site_id
      join users u on u.id = t.user_id
      where t.id = ${id}`,
  )
  if (!transfer) {
    throw new Refusal('not-found', 'There is no such transfer.')
  }
  const lines = await rows<TransferLineRow>(
    db,
    sql`
      select
        l.id, l.item_id as "itemId", i.code, i.name, l.entered, l.unit, i.stock_unit as "stockUnit", i.symbol,
        trim_scale(l.quantity)::text as quantity, trim_scale(l.shipped)::text as shipped,
        trim_scale(l.received)::text as received, trim_scale(l.lost)::text as lost,
        coalesce(
          (
            select trim_scale(sum(b.on_hand - b.allocated))
            from balances b
            join places p on p.id = b.place_id
            where b.item_id = l.item_id
              and b.status = 'available'
              and p.site_id = ${transfer.fromSiteId}
              and not p.closed_to_picking
          ),
          0
        )::text as free
      from transfer_lines l
      join ${MEASURED_ITEM} i on i.id = l.item_id
      where l.transfer_id = ${id}
      order by l.line`,
  )
  return { ...transfer, lines, onTheWay: await onTheWay(db, id), postings: await loadPostings('transfer', id) }
}
