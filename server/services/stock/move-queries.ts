import { sql } from 'drizzle-orm'
import { db, rows } from '~~/server/database/client'
import { anywhere, filteredBy, onePage, sortedBy, type ListColumns } from '~~/server/database/sql'
import type { Paged } from '~~/shared/primitives'
import { type Query, matching, inGroup } from './queries'

export interface MoveRow {
  id: number
  postingId: number
  kind: string
  label: string
  reason: string
  documentKind: string | null
  documentId: number | null
  effectiveOn: string
  recordedAt: string
  who: string
  itemId: number
  code: string
  name: string
  lotId: number | null
  lot: string | null
  pieceId: number | null
  piece: string | null
  quantity: string
  symbol: string
  decimals: number
  from: string
  to: string
  fromStatus: string | null
  toStatus: string | null
  incoming: boolean
  outgoing: boolean
  entered: string
  enteredUnit: string
  residueNumerator: string
  residueDenominator: string
  value: string
  adjusted: string
  reversed: boolean
  reversal: boolean
}

const MOVE_COLUMNS: ListColumns = {
  day: { sql: sql`m.effective_on`, kind: 'day' },
  effectiveOn: { sql: sql`m.effective_on`, kind: 'day' },
  recordedAt: { sql: sql`o.recorded_at::date`, kind: 'day' },
  label: { sql: sql`o.label`, kind: 'text' },
  reason: { sql: sql`o.reason`, kind: 'text' },
  who: { sql: sql`w.name`, kind: 'text' },
  code: { sql: sql`i.code`, kind: 'text' },
  lot: { sql: sql`coalesce(c.label, l.number)`, kind: 'text' },
  quantity: { sql: sql`m.quantity`, kind: 'number' },
  from: { sql: sql`f.name`, kind: 'text' },
  to: { sql: sql`t.name`, kind: 'text' },
  value: { sql: sql`m.value`, kind: 'number' },
}

/** The ledger, newest first. */
export async function listMoves(query: Query): Promise<Paged<MoveRow>> {
  const where = sql`
    ${query.search === '' ? sql`true` : sql`(${matching(query.search)} or o.label ilike ${anywhere(query.search)})`}
      and (${query.item}::int is null or m.item_id = ${query.item})
      and (${query.bin}::int is null or ${query.bin} in (m.from_place_id, m.to_place_id))
      and (${query.site}::int is null or ${query.site} in (f.site_id, t.site_id))
      and (${query.lot}::int is null or m.lot_id = ${query.lot})
      and (${query.piece}::int is null or m.piece_id = ${query.piece})
      and (${query.posting}::int is null or m.posting_id = ${query.posting})
      and (${query.asOf}::date is null or m.effective_on <= ${query.asOf})
      and ${inGroup(query.group)}
      and ${filteredBy(query.filter, MOVE_COLUMNS)}`
  const plain = query.search === '' && query.site === null && query.group === null && query.filter.length === 0
  const narrow = sql`
    (${query.item}::int is null or m.item_id = ${query.item})
      and (${query.bin}::int is null or ${query.bin} in (m.from_place_id, m.to_place_id))
      and (${query.lot}::int is null or m.lot_id = ${query.lot})
      and (${query.piece}::int is null or m.piece_id = ${query.piece})
      and (${query.posting}::int is null or m.posting_id = ${query.posting})
      and (${query.asOf}::date is null or m.effective_on <= ${query.asOf})`
  const all =
    plain &&
    query.item === null &&
    query.bin === null &&
    query.lot === null &&
    query.piece === null &&
    query.posting === null &&
    query.asOf === null
  const joins = sql`
    join postings o on o.id = m.posting_id
    join users w on w.id = o.user_id
    join items i on i.id = m.item_id
    join places f on f.id = m.from_place_id
    join places t on t.id = m.to_place_id
    left join lots l on l.id = m.lot_id
    left join pieces c on c.id = m.piece_id`
  const counting = plain
    ? sql`select count(*)::int as total from moves m where ${narrow}`
    : sql`select count(*)::int as total from moves m ${joins} where ${where}`
  // Moves are never removed: the highest number tells how many there are, near enough for paging, without going through
  // millions.
  const [count] = await rows<{ total: number }>(
    db,
    all ? sql`select coalesce(max(id), 0)::int as total from moves` : counting,
  )
  const list = await rows<MoveRow>(
    db,
    sql`
      select
        m.id::int as id, o.id as "postingId", o.kind, o.label, o.reason, o.document_kind as "documentKind",
        o.document_id as "documentId", m.effective_on as "effectiveOn", o.recorded_at::text as "recordedAt",
        w.name as who, m.item_id as "itemId", i.code, i.name, m.lot_id as "lotId", l.number as lot,
        m.piece_id as "pieceId", c.label as piece, m.quantity, u.symbol, u.decimals, f.name as "from",
        t.name as "to", m.from_status as "fromStatus", m.to_status as "toStatus",
        t.kind in ('bin', 'transit') as incoming, f.kind in ('bin', 'transit') as outgoing,
        m.entered_quantity as entered, m.entered_unit as "enteredUnit",
        m.residue_numerator as "residueNumerator", m.residue_denominator as "residueDenominator",
        m.value::text as value,
        coalesce((select sum(a.value) from adjustments a where a.move_id = m.id), 0)::text as adjusted,
        exists (select 1 from postings r where r.reverses_id = o.id) as reversed,
        o.reverses_id is not null as reversal
      from moves m ${joins}
      join units u on u.code = i.stock_unit
      where ${where}
      order by ${sortedBy(query.sort, MOVE_COLUMNS, sql`m.id desc`)}
      ${onePage(query)}`,
  )
  return { rows: list, total: count!.total }
}
