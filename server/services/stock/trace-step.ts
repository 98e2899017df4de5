import { sql, type SQL } from 'drizzle-orm'
import { db, rows } from '~~/server/database/client'
import { isLive, MEASURED_ITEM } from '~~/server/database/sql'

/** Goods: a lot, a piece, or an item of which nothing but the quantity is known. */
export interface Key {
  item: number
  lot: number | null
  piece: number | null
}

export const keyText = ({ item, lot, piece }: Key): string => {
  if (piece !== null) {
    return `p${piece}`
  }
  if (lot !== null) {
    return `l${lot}`
  }
  return `i${item}`
}

/** No recall reads more than this; beyond it the answer says so. */
export const MOST = 20_000

/** What an act made of goods, or made goods of. */
export interface StepRow {
  item: number
  lot: number | null
  piece: number | null
  quantity: string
  symbol: string
  otherItem: number
  otherLot: number | null
  otherPiece: number | null
  otherQuantity: string
  otherSymbol: string
  postingId: number
  label: string
  on: string
  /** The acts that brought the other side, or took it: this one, and those of the same build that it worked for. */
  otherPostingIds: number[]
}

const WORKSHOP = sql`(select id from places where kind = 'workshop')`

/**
 * What acts took a lot or piece into work (`forward`), or brought it out of it, and what else those acts brought or
 * took.
 */
export function stepOf(front: readonly Key[], direction: 'back' | 'forward'): Promise<StepRow[]> {
  const near = direction === 'forward' ? sql`m.to_place_id` : sql`m.from_place_id`
  return stepThrough(
    sql`
      with front as (
        select * from jsonb_to_recordset(${JSON.stringify(front)}::jsonb) as f(item int, lot int, piece int)
      )
      select m.posting_id, m.item_id, m.lot_id, m.piece_id, sum(m.quantity) as quantity
      from front f
      join moves m on m.lot_id = f.lot and m.piece_id is null
      where f.piece is null and f.lot is not null and ${near} = ${WORKSHOP}
      group by 1, 2, 3, 4
      union all
      select m.posting_id, m.item_id, m.lot_id, m.piece_id, sum(m.quantity)
      from front f
      join moves m on m.piece_id = f.piece
      where ${near} = ${WORKSHOP}
      group by 1, 2, 3, 4`,
    direction,
  )
}

/** One act that took of an item that is kept by quantity only. */
export interface Take {
  readonly item: number
  readonly posting: number
}

/** What acts made that took of items kept by quantity only. */
export function stepOfTakes(takes: readonly Take[]): Promise<StepRow[]> {
  return stepThrough(
    sql`
      select m.posting_id, m.item_id, null::int as lot_id, null::int as piece_id, sum(m.quantity) as quantity
      from jsonb_to_recordset(${JSON.stringify(takes)}::jsonb) as t(item int, posting int)
      join moves m on m.posting_id = t.posting and m.item_id = t.item
      where m.lot_id is null and m.piece_id is null and m.to_place_id = ${WORKSHOP}
      group by 1, 2`,
    'forward',
  )
}

/** The other side of acts. `acts`: posting_id, item_id, lot_id, piece_id and quantity of the side that is known. */
function stepThrough(acts: SQL, direction: 'back' | 'forward'): Promise<StepRow[]> {
  const far = direction === 'forward' ? sql`n.from_place_id` : sql`n.to_place_id`
  // What a build took ahead of anything made went into the parts that came later.
  const besides =
    direction === 'forward'
      ? sql`
        select p.id
        from postings p
        where o.document_kind = 'build'
          and p.document_kind = 'build'
          and p.document_id = o.document_id
          and p.id > o.id
          and exists (select 1 from build_uses u where u.posting_id = o.id and u.ahead > 0)`
      : sql`
        select p.id
        from postings p
        where o.document_kind = 'build'
          and p.document_kind = 'build'
          and p.document_id = o.document_id
          and p.id < o.id
          and exists (select 1 from build_uses u where u.posting_id = p.id and u.ahead > 0)`
  return rows<StepRow>(
    db,
    sql`
      with acts as materialized (${acts})
      select
        a.item_id as item, a.lot_id as lot, a.piece_id as piece, trim_scale(a.quantity)::text as quantity,
        i.symbol, n.item_id as "otherItem", n.lot_id as "otherLot", n.piece_id as "otherPiece",
        trim_scale(sum(n.quantity))::text as "otherQuantity", v.symbol as "otherSymbol", o.id as "postingId",
        o.label, o.effective_on as "on", array_agg(distinct x.id) as "otherPostingIds"
      from acts a
      join postings o on o.id = a.posting_id
        and ${isLive('o')}
      join lateral (
        select a.posting_id as id
        union all
        select x.id
        from (${besides}) x
        where not exists (
          select 1 from postings r where r.reverses_id = x.id or (r.id = x.id and r.reverses_id is not null)
        )
      ) x on true
      join moves n on n.posting_id = x.id and ${far} = ${WORKSHOP}
      join ${MEASURED_ITEM} i on i.id = a.item_id
      join items j on j.id = n.item_id
      join units v on v.code = j.stock_unit
      group by
        a.item_id, a.lot_id, a.piece_id, a.quantity, i.symbol, n.item_id, n.lot_id, n.piece_id, v.symbol, o.id,
        o.label, o.effective_on
      order by o.id
      limit ${MOST * 5}`,
  )
}
