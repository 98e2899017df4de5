import { sql } from 'drizzle-orm'
import { db, rows } from '~~/server/database/client'
import { isLive, MEASURED_ITEM, notReversed } from '~~/server/database/sql'
import { Refusal } from '~~/server/utils/refusal'
import type { Trace, TraceEdge, TraceNode } from '../../../shared/stock/answers'

interface Key {
  item: number
  lot: number | null
  piece: number | null
}

const keyText = ({ item, lot, piece }: Key): string => {
  if (piece !== null) {
    return `p${piece}`
  }
  if (lot !== null) {
    return `l${lot}`
  }
  return `i${item}`
}

/** No recall reads more than this; beyond it the answer says so. */
const MOST = 20_000

/**
 * Where goods came from (`back`) or what they went into (`forward`), through any number of levels.
 *
 * Level by level: what acts took a lot or piece into work, or brought it out of it, and what else those acts brought or took. Acts that
 * were reversed are left out. Goods without lot or piece are named where they turn up, and not followed: they may be in anything.
 * Cost: one indexed query a level.
 */
export async function traceGoods(
  start: { lot: number | null; piece: number | null },
  direction: 'back' | 'forward',
): Promise<Trace> {
  let front = await startOf(start)
  const [first] = front
  const levels = new Map(front.map((key) => [keyText(key), { key, level: 0 }]))
  const edges = new Map<string, TraceEdge>()
  for (let level = 1; front.length > 0 && levels.size < MOST; level++) {
    const found = await step(front, direction)
    const next: Key[] = []
    for (const row of found) {
      const far: Key = { item: row.otherItem, lot: row.otherLot, piece: row.otherPiece }
      const edge = edgeOf(row, far, direction)
      if (edge.from === edge.to) {
        continue
      }
      edges.set(`${edge.from} ${edge.to} ${row.postingId}`, edge)
      if (levels.has(keyText(far))) {
        continue
      }
      levels.set(keyText(far), { key: far, level })
      if (far.lot !== null || far.piece !== null) {
        next.push(far)
      }
    }
    front = next
  }
  return { start: keyText(first!), nodes: await describeNodes([...levels.values()]), edges: [...edges.values()] }
}

/** What is asked about; all pieces of a lot are that lot. Throws `not-found`. */
async function startOf(start: { lot: number | null; piece: number | null }): Promise<Key[]> {
  if (start.piece !== null) {
    const found = await rows<Key>(
      db,
      sql`select item_id as item, lot_id as lot, id as piece from pieces where id = ${start.piece}`,
    )
    if (found.length === 0) {
      throw new Refusal('not-found', 'There is no such piece.')
    }
    return found
  }
  const lots = await rows<Key>(
    db,
    sql`select item_id as item, id as lot, null::int as piece from lots where id = ${start.lot}`,
  )
  if (lots.length === 0) {
    throw new Refusal('not-found', 'There is no such lot.')
  }
  const pieces = await rows<Key>(
    db,
    sql`select item_id as item, lot_id as lot, id as piece from pieces where lot_id = ${start.lot}`,
  )
  return [...lots, ...pieces]
}

function edgeOf(row: StepRow, far: Key, direction: 'back' | 'forward'): TraceEdge {
  const near: Key = { item: row.item, lot: row.lot, piece: row.piece }
  const act = { postingId: row.postingId, label: row.label, on: row.on }
  return direction === 'forward'
    ? { from: keyText(near), to: keyText(far), ...act, quantity: row.quantity, symbol: row.symbol }
    : { from: keyText(far), to: keyText(near), ...act, quantity: row.otherQuantity, symbol: row.otherSymbol }
}

interface StepRow {
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
}

function step(front: readonly Key[], direction: 'back' | 'forward'): Promise<StepRow[]> {
  const near = direction === 'forward' ? sql`m.to_place_id` : sql`m.from_place_id`
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
      with front as (
        select * from jsonb_to_recordset(${JSON.stringify(front)}::jsonb) as f(item int, lot int, piece int)
      ),
      work as (
        select id from places where kind = 'workshop'
      ),
      acts as materialized (
        select m.posting_id, m.item_id, m.lot_id, m.piece_id, sum(m.quantity) as quantity
        from front f
        join moves m on m.lot_id = f.lot and m.piece_id is null
        where f.piece is null and f.lot is not null and ${near} = (select id from work)
        group by 1, 2, 3, 4
        union all
        select m.posting_id, m.item_id, m.lot_id, m.piece_id, sum(m.quantity)
        from front f
        join moves m on m.piece_id = f.piece
        where ${near} = (select id from work)
        group by 1, 2, 3, 4
      )
      select
        a.item_id as item, a.lot_id as lot, a.piece_id as piece, trim_scale(a.quantity)::text as quantity,
        i.symbol, n.item_id as "otherItem", n.lot_id as "otherLot", n.piece_id as "otherPiece",
        trim_scale(sum(n.quantity))::text as "otherQuantity", v.symbol as "otherSymbol", o.id as "postingId",
        o.label, o.effective_on as "on"
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
      join moves n on n.posting_id = x.id and ${far} = (select id from work)
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

async function describeNodes(found: readonly { key: Key; level: number }[]): Promise<TraceNode[]> {
  const described = await rows<Omit<TraceNode, 'id'>>(
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
  return described.map((node) => ({
    ...node,
    id: keyText({ item: node.itemId, lot: node.lotId, piece: node.pieceId }),
  }))
}
