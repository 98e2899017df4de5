import { sql, type SQL } from 'drizzle-orm'
import type * as z from 'zod'
import { db, rows } from '~~/server/database/client'
import { anywhere, filteredBy, onePage, sortedBy, type ListColumns } from '~~/server/database/sql'
import type { Paged } from '~~/shared/primitives'
import type { LotQuery, TraitValues } from '~~/shared/stock/requests'
import { matching, inGroup, ofTrait } from './queries'

export interface LotRow {
  id: string
  lotId: number | null
  pieceId: number | null
  itemId: number
  code: string
  name: string
  lot: string | null
  piece: string | null
  supplierNumber: string
  receivedOn: string | null
  expiresOn: string | null
  bestBeforeOn: string | null
  traits: TraitValues
  original: string | null
  onHand: string
  held: string
  symbol: string
  decimals: number
  where: string
}

/** What lies of a lot or piece `x`, by what is summed. */
const lying = (sum: SQL): SQL => sql`
  (
    select ${sum}
    from balances b
    join places p on p.id = b.place_id
    where b.on_hand > 0
      and (
        (x.piece_id is not null and b.piece_id = x.piece_id)
          or (x.piece_id is null and b.lot_id = x.lot_id and b.piece_id is null)
      )
  )`
const COLUMNS: ListColumns = {
  code: { sql: sql`i.code`, kind: 'text' },
  lot: { sql: sql`coalesce(c.label, l.number)`, kind: 'text' },
  supplierNumber: { sql: sql`l.supplier_number`, kind: 'text' },
  receivedOn: { sql: sql`l.received_on`, kind: 'day' },
  expiresOn: { sql: sql`l.expires_on`, kind: 'day' },
  bestBeforeOn: { sql: sql`l.best_before_on`, kind: 'day' },
  original: { sql: sql`c.original`, kind: 'number' },
  onHand: { sql: sql`coalesce(${lying(sql`sum(b.on_hand)`)}, 0)`, kind: 'number' },
  held: { sql: sql`coalesce(${lying(sql`sum(b.on_hand) filter (where b.status <> 'available')`)}, 0)`, kind: 'number' },
  where: { sql: lying(sql`string_agg(distinct p.name, ', ')`), kind: 'text' },
}

/**
 * Lots, and pieces one by one, with their traits and where they lie.
 *
 * Items are walked in the order of their codes, so that a page is found without looking at all lots; what lies where is
 * summed for the page alone.
 */
export async function listLots(query: z.output<typeof LotQuery>): Promise<Paged<LotRow>> {
  const held =
    query.held === ''
      ? sql`true`
      : sql`
        exists (
          select 1
          from balances b
          where b.on_hand > 0
            and (
              (x.piece_id is not null and b.piece_id = x.piece_id)
                or (x.piece_id is null and b.lot_id = x.lot_id and b.piece_id is null)
            )
        )`
  const from = sql`
    from items i
    cross join lateral (
      select l.id as lot_id, c.id as piece_id
      from lots l
      left join pieces c on c.lot_id = l.id
      where l.item_id = i.id
      union all
      select null, c.id
      from pieces c
      where c.item_id = i.id and c.lot_id is null
    ) x
    left join lots l on l.id = x.lot_id
    left join pieces c on c.id = x.piece_id
    where ${
      query.search === ''
        ? sql` true`
        : sql`
          i.id in (
            select id
            from items
            where code ilike ${anywhere(query.search)} or name ilike ${anywhere(query.search)}
            union all
            select item_id
            from lots
            where number ilike ${anywhere(query.search)}
            union all
            select item_id
            from pieces
            where label ilike ${anywhere(query.search)}
          )`
    }
      and ${matching(query.search)}
      and (${query.item}::int is null or i.id = ${query.item})
      and ${inGroup(query.group)}
      and ${ofTrait(query.trait, query.value)}
      and (${query.expiresBy}::date is null or l.expires_on <= ${query.expiresBy})
      and ${held}
      and ${filteredBy(query.filter, COLUMNS)}`
  const order = sortedBy(query.sort, COLUMNS, sql`i.code, l.number, c.label`)
  const all =
    query.search === '' &&
    query.filter.length === 0 &&
    query.item === null &&
    query.group === null &&
    query.trait === '' &&
    query.value === '' &&
    query.expiresBy === null
  const [count] = await rows<{ total: number }>(
    db,
    all && query.held === 'yes'
      ? sql`
        select count(*)::int as total
        from (
          select 1
          from balances
          where on_hand > 0 and (lot_id is not null or piece_id is not null)
          group by lot_id, piece_id
        ) n`
      : sql`select count(*)::int as total ${from}`,
  )
  const list = await rows<LotRow>(
    db,
    sql`
      with page as materialized (
        select
          i.id as item_id, i.code, i.name, i.stock_unit, x.lot_id, x.piece_id,
          row_number() over (order by ${order}) as place
        ${from}
        order by ${order}
        ${onePage(query)}
      )
      select
        concat_ws('|', x.lot_id, x.piece_id, x.item_id) as id, x.lot_id as "lotId", x.piece_id as "pieceId",
        x.item_id as "itemId", x.code, x.name, l.number as lot, c.label as piece,
        coalesce(l.supplier_number, '') as "supplierNumber", l.received_on as "receivedOn",
        l.expires_on as "expiresOn", l.best_before_on as "bestBeforeOn",
        coalesce(l.traits, '{}') || coalesce(c.traits, '{}') as traits,
        trim_scale(c.original)::text as original, trim_scale(coalesce(h.on_hand, 0))::text as "onHand",
        trim_scale(coalesce(h.held, 0))::text as held, u.symbol, u.decimals, coalesce(h.places, '') as "where"
      from page x
      join units u on u.code = x.stock_unit
      left join lots l on l.id = x.lot_id
      left join pieces c on c.id = x.piece_id
      left join lateral (
        select
          sum(b.on_hand) as on_hand, sum(b.on_hand) filter (where b.status <> 'available') as held,
          string_agg(distinct p.name, ', ') as places
        from balances b
        join places p on p.id = b.place_id
        where b.on_hand > 0
          and (
            (x.piece_id is not null and b.piece_id = x.piece_id)
              or (x.piece_id is null and b.lot_id = x.lot_id and b.piece_id is null)
          )
      ) h on true
      order by x.place`,
  )
  return { rows: list, total: count!.total }
}
