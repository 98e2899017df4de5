import { sql } from 'drizzle-orm'
import { db, rows } from '~~/server/database/client'
import { MEASURED_ITEM } from '~~/server/database/sql'
import { Refusal } from '~~/server/utils/refusal'
import { loadPostings } from '../../ledger/postings'
import type { CountLineRow } from '../../../shared/stock/answers'

export interface CountRow {
  id: number
  number: string
  name: string
  status: string
  openedOn: string
  approvedOn: string | null
  who: string
  lines: number
  counted: number
  right: number
  again: number
  worth: string | null
  off: string | null
  booked: string | null
}

/**
 * All counts, newest first, with how right the books were: lines without a difference, and what the differences are
 * worth in all and without sign.
 */
export const listCounts = (): Promise<CountRow[]> =>
  rows<CountRow>(
    db,
    sql`
      select
        c.id, c.number, c.name, c.status, c.opened_on as "openedOn", c.approved_on as "approvedOn",
        u.name as who, count(l.id)::int as lines, count(l.counted)::int as counted,
        count(*) filter (where l.counted = l.booked)::int as right,
        count(*) filter (where l.recount and l.counted is null)::int as again,
        case
          when c.status = 'recorded' then sum(l.worth) filter (where l.counted <> l.booked)
        end::text as worth,
        case
          when c.status = 'recorded' then sum(abs(l.worth)) filter (where l.counted <> l.booked)
        end::text as off,
        null as booked
      from stock_counts c
      join users u on u.id = c.user_id
      left join count_lines l on l.count_id = c.id
      group by c.id, u.name
      order by c.id desc`,
  )

/**
 * A count with its lines. As long as it is open and blind, what the books say is not told.
 */
export async function loadCount(id: number, review: boolean) {
  const [count] = await rows<{
    id: number
    number: string
    name: string
    status: string
    blind: boolean
    recountOver: string | null
    openedOn: string
    approvedOn: string | null
    who: string
    approver: string | null
    postingId: number | null
    version: number
    scope: { kind: string }
  }>(
    db,
    sql`
      select
        c.id, c.number, c.name, c.status, c.blind, c.recount_over::text as "recountOver",
        c.opened_on as "openedOn", c.approved_on as "approvedOn", u.name as who, a.name as approver,
        c.posting_id as "postingId", c.version, c.scope
      from stock_counts c
      join users u on u.id = c.user_id
      left join users a on a.id = c.approved_by
      where c.id = ${id}`,
  )
  if (!count) {
    throw new Refusal('not-found', 'There is no such stock count.')
  }
  const hidden = count.status === 'open' && count.blind && !review
  const lines = await rows<CountLineRow>(
    db,
    sql`
      select
        l.id, l.item_id as "itemId", i.code, i.name, p.id as "binId", p.name as bin, s.name as site,
        o.number as lot, c.label as piece, l.status, i.stock_unit as "stockUnit", i.symbol,
        i.finest_step::text as "finestStep", trim_scale(l.counted)::text as counted, l.entered, l.unit,
        ${hidden ? sql`null` : sql`trim_scale(l.first)::text`} as first, l.recount, l.note, w.name as who,
        ${
          hidden
            ? sql` null`
            : sql`
              trim_scale(
                coalesce(
                  l.booked,
                  (
                    select on_hand
                    from balances b
                    where b.item_id = l.item_id
                      and b.place_id = l.place_id
                      and b.lot_id is not distinct from l.lot_id
                      and b.piece_id is not distinct from l.piece_id
                      and b.status = l.status
                  ),
                  0
                )
              )::text`
        } as booked,
        ${hidden ? sql`null` : sql`l.worth::text`} as worth,
        (
          select count(*)::int
          from moves m
          join postings g on g.id = m.posting_id
          where m.item_id = l.item_id
            and m.lot_id is not distinct from l.lot_id
            and m.piece_id is not distinct from l.piece_id
            and l.place_id in (m.from_place_id, m.to_place_id)
            and g.recorded_at > (
              select min(at) from changes h where h.entity = 'stock count' and h.entity_id = l.count_id::text
            )
            and g.id is distinct from ${count.postingId}::int
        ) as moved
      from count_lines l
      join ${MEASURED_ITEM} i on i.id = l.item_id
      join places p on p.id = l.place_id
      join sites s on s.id = p.site_id
      left join lots o on o.id = l.lot_id
      left join pieces c on c.id = l.piece_id
      left join users w on w.id = l.counted_by
      where l.count_id = ${id}
      order by s.name, p.pick_order, p.code, i.code, o.number, c.label`,
  )
  return { ...count, hidden, lines, postings: await loadPostings('stock count', id) }
}
