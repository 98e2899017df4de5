import { sql, type SQL } from 'drizzle-orm'
import type * as z from 'zod'
import { db, rows, type Reader } from '~~/server/database/client'
import { anywhere, filteredBy, groupsBelow, onePage, sortedBy, type ListColumns } from '~~/server/database/sql'
import type { Paged } from '~~/shared/primitives'
import type { StockQuery, TraitValues } from '~~/shared/stock/requests'

export interface BalanceRow {
  id: number | string
  itemId: number
  code: string
  name: string
  binId: number
  bin: string
  siteId: number | null
  site: string
  lotId: number | null
  lot: string | null
  pieceId: number | null
  piece: string | null
  expiresOn: string | null
  traits: TraitValues
  status: string
  onHand: string
  allocated: string
  unit: string
  symbol: string
  decimals: number
  closedToPicking: boolean
}

export type Query = z.output<typeof StockQuery>

/** Text as a pattern that finds it anywhere in it; what a pattern would read as a sign is taken as it is. */
export const matching = (text: string): SQL =>
  text === ''
    ? sql`true`
    : sql`
      (
        i.code ilike ${anywhere(text)}
          or i.name ilike ${anywhere(text)}
          or l.number ilike ${anywhere(text)}
          or c.label ilike ${anywhere(text)}
      )`

export const inGroup = (group: number | null): SQL =>
  group === null
    ? sql`true`
    : sql`
      i.group_id in ${groupsBelow(sql`id = ${group}`)}`

export const ofTrait = (name: string, value: string): SQL => {
  if (value === '') {
    if (name === '') {
      return sql`true`
    }
    return sql`(coalesce(l.traits, '{}') || coalesce(c.traits, '{}')) ? ${name}`
  }
  if (name === '') {
    return sql`
        exists (
          select 1
          from jsonb_each_text(coalesce(l.traits, '{}') || coalesce(c.traits, '{}')) t
          where t.value ilike ${anywhere(value)}
        )`
  }
  return sql`(coalesce(l.traits, '{}') || coalesce(c.traits, '{}')) ->> ${name} ilike ${anywhere(value)}`
}

const COLUMNS: ListColumns = {
  code: { sql: sql`i.code`, kind: 'text' },
  bin: { sql: sql`p.name`, kind: 'text' },
  place: { sql: sql`p.pick_order`, kind: 'number' },
  site: { sql: sql`(select name from sites s where s.id = p.site_id)`, kind: 'text' },
  lot: { sql: sql`coalesce(c.label, l.number)`, kind: 'text' },
  expiresOn: { sql: sql`l.expires_on`, kind: 'day' },
  status: { sql: sql`b.status`, kind: 'text' },
  onHand: { sql: sql`b.on_hand`, kind: 'number' },
  allocated: { sql: sql`b.allocated`, kind: 'number' },
}
const USUAL = sql`i.code, p.code, l.number, c.label, b.item_id, b.place_id, b.lot_id, b.piece_id, b.status`

/** What a text is found in, as balances: through the few items, lots and pieces that are named so. */
const named = (text: string): SQL =>
  text === ''
    ? sql`true`
    : sql`
      b.id in (
        select id
        from balances
        where item_id in (
          select id from items where code ilike ${anywhere(text)} or name ilike ${anywhere(text)}
        )
        union all
        select id
        from balances
        where lot_id in (select id from lots where number ilike ${anywhere(text)})
        union all
        select id
        from balances
        where piece_id in (select id from pieces where label ilike ${anywhere(text)})
      )`

/** What lies where, a row an item, bin, lot, piece and status; on any day that is over. */
export async function listBalances(query: Query): Promise<Paged<BalanceRow>> {
  const { asOf } = query
  if (asOf !== null) {
    return db.transaction((tx) => listBalancesOn(tx, query, asOf), {
      isolationLevel: 'repeatable read',
      accessMode: 'read only',
    })
  }
  const own = sql`
    b.on_hand > 0
      and ${named(query.search)}
      and (${query.item}::int is null or b.item_id = ${query.item})
      and (${query.bin}::int is null or b.place_id = ${query.bin})
      and (${query.lot}::int is null or b.lot_id = ${query.lot})
      and (${query.piece}::int is null or b.piece_id = ${query.piece})
      and (${query.status} = '' or b.status = ${query.status})
      and (${query.site}::int is null or b.place_id in (select id from places where site_id = ${query.site}))`
  const far = sql`
    ${inGroup(query.group)}
      and ${ofTrait(query.trait, query.value)}
      and ${filteredBy(query.filter, COLUMNS)}`
  const joins = sql`
    join items i on i.id = b.item_id
    join places p on p.id = b.place_id
    left join lots l on l.id = b.lot_id
    left join pieces c on c.id = b.piece_id`
  const plain = query.trait === '' && query.value === '' && query.group === null && query.filter.length === 0
  const [count] = await rows<{ total: number }>(
    db,
    plain
      ? sql`select count(*)::int as total from balances b where ${own}`
      : sql`select count(*)::int as total from balances b ${joins} where ${own} and ${far}`,
  )
  return {
    rows: await rows<BalanceRow>(
      db,
      sql`
        select b.id, ${BALANCE_FIELDS}
        from balances b ${joins}
        join units u on u.code = i.stock_unit
        left join sites s on s.id = p.site_id
        where ${own} and ${far} ${pageOf(query)}`,
    ),
    total: count!.total,
  }
}

const BALANCE_FIELDS = sql`
  b.item_id as "itemId", i.code, i.name, p.id as "binId", p.name as bin, p.site_id as "siteId",
  coalesce(s.name, '') as site, b.lot_id as "lotId", l.number as lot, b.piece_id as "pieceId", c.label as piece,
  l.expires_on as "expiresOn", coalesce(l.traits, '{}') || coalesce(c.traits, '{}') as traits, b.status,
  b.on_hand as "onHand", b.allocated, i.stock_unit as unit, u.symbol, u.decimals,
  p.closed_to_picking as "closedToPicking"`

const pageOf = (query: Query): SQL => sql`order by ${sortedBy(query.sort, COLUMNS, USUAL)} ${onePage(query)}`

/** The items that a list of balances is narrowed to, by text and group. */
function itemsOf(query: Query): SQL {
  if (query.search === '' && query.group === null) {
    return sql`true`
  }
  const pattern = anywhere(query.search)
  const named =
    query.search === ''
      ? sql`true`
      : sql`
        (
          i.code ilike ${pattern}
            or i.name ilike ${pattern}
            or i.id in (select item_id from lots where number ilike ${pattern})
        )`
  return sql`
    item_id in (
      select i.id
      from items i
      where ${named} and ${inGroup(query.group)}
    )`
}

/**
 * Where counting begins: today's balances, or those of a month end; and what has moved between then and the day that is
 * asked.
 */
function startingFrom(
  end: { readonly month: string; readonly earlier: boolean } | undefined,
  asOf: string,
): { readonly base: SQL; readonly between: SQL; readonly came: SQL; readonly went: SQL } {
  if (end === undefined) {
    return {
      base: sql`select item_id, place_id, lot_id, piece_id, status, on_hand as quantity from balances where on_hand > 0`,
      between: sql`effective_on > ${asOf}`,
      came: sql`-quantity`,
      went: sql`quantity`,
    }
  }
  const base = sql`
    select item_id, place_id, lot_id, piece_id, status, on_hand as quantity
    from month_balances
    where month = ${end.month}`
  return end.earlier
    ? {
        base,
        between: sql`effective_on > ${end.month} and effective_on <= ${asOf}`,
        came: sql`quantity`,
        went: sql`-quantity`,
      }
    : {
        base,
        between: sql`effective_on > ${asOf} and effective_on <= ${end.month}`,
        came: sql`-quantity`,
        went: sql`quantity`,
      }
}

/**
 * What lay where on the evening of a day: what lies there now, or lay there at the end of the nearest month that is
 * kept, less (or with) what has moved between. Whatever narrows it does so before anything is summed.
 */
async function listBalancesOn(tx: Reader, query: Query, asOf: string): Promise<Paged<BalanceRow>> {
  const items = itemsOf(query)
  const narrow = (place: SQL, status: SQL): SQL => sql`
    (${query.item}::int is null or item_id = ${query.item})
      and (${query.lot}::int is null or lot_id = ${query.lot})
      and (${query.piece}::int is null or piece_id = ${query.piece})
      and (${query.bin}::int is null or ${place} = ${query.bin})
      and (${query.status} = '' or ${status} = ${query.status})
      and ${query.site === null ? sql`true` : sql`${place} in (select id from places where site_id = ${query.site})`}
      and ${items}`
  const [end] = await rows<{ month: string; earlier: boolean }>(
    tx,
    sql`
      select month, month < ${asOf} as earlier
      from month_ends
      where exists (select 1 from month_ends where month >= ${asOf})
      order by abs(month - ${asOf}::date)
      limit 1`,
  )
  const { base, between, came, went } = startingFrom(end, asOf)
  const isNarrowed = query.trait !== '' || query.value !== '' || query.filter.length > 0
  const isByCode = query.sort === '' || query.sort === 'code'
  const order = sortedBy(query.sort, COLUMNS, USUAL)
  // By code, the first items that lie there at all hold every row of the page: the rest need not be sorted.
  const leads = !isNarrowed && isByCode && query.page <= 20
  const found = await rows<BalanceRow & { total: number }>(
    tx,
    sql`
      with b as materialized (
        select item_id, place_id, lot_id, piece_id, status, sum(quantity) as on_hand, 0::numeric as allocated
        from (
          ${base} and ${narrow(sql`place_id`, sql`status`)}
          union all
          select item_id, to_place_id, lot_id, piece_id, to_status, ${came}
          from moves
          where ${between} and to_status is not null and ${narrow(sql`to_place_id`, sql`to_status`)}
          union all
          select item_id, from_place_id, lot_id, piece_id, from_status, ${went}
          from moves
          where ${between} and from_status is not null and ${narrow(sql`from_place_id`, sql`from_status`)}
        ) x
        group by 1, 2, 3, 4, 5
        having sum(quantity) > 0
      ),
      ${
        leads
          ? sql`
            first_items as materialized (
              select i.id, i.code
              from items i
              where (i.id in (select item_id from b)) is true
              order by i.code
              limit ${query.page * query.size}
            ),`
          : sql``
      } page as materialized (
        select
          b.*, row_number() over (order by ${order}) as place,
          ${isNarrowed ? sql`count(*) over ()::int` : sql`(select count(*)::int from b)`} as total
        from b
        join ${leads ? sql`first_items` : sql`items`} i on i.id = b.item_id
        join places p on p.id = b.place_id
        left join lots l on l.id = b.lot_id
        left join pieces c on c.id = b.piece_id
        where ${ofTrait(query.trait, query.value)} and ${filteredBy(query.filter, COLUMNS)}
        order by ${order}
        ${onePage(query)}
      )
      select
        concat_ws('|', b.item_id, b.place_id, b.lot_id, b.piece_id, b.status) as id, ${BALANCE_FIELDS}, b.total
      from page b
      join items i on i.id = b.item_id
      join units u on u.code = i.stock_unit
      join places p on p.id = b.place_id
      left join lots l on l.id = b.lot_id
      left join pieces c on c.id = b.piece_id
      left join sites s on s.id = p.site_id
      order by b.place`,
  )
  return {
    rows: found.map(({ total, ...row }) => {
      void total
      return row
    }),
    total: found[0]?.total ?? 0,
  }
}
