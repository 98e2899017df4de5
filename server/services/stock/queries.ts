import { sql, type SQL } from 'drizzle-orm'
import type { z } from 'zod'
import { db, rows, type Reader } from '~~/server/database/client'
import type { Paged } from '~~/shared/primitives'
import type { LotQuery, SiteQuery, StockQuery, TraitValues } from '~~/shared/stock'

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

type Query = z.output<typeof StockQuery>

/** Text as a pattern that finds it anywhere in it; what a pattern would read as a sign is taken as it is. */
export const anywhere = (text: string): string => `%${text.replace(/[\\%_]/g, (sign) => `\\${sign}`)}%`
const matching = (text: string): SQL =>
  text === ''
    ? sql`true`
    : sql`
      (
        i.code ilike ${anywhere(text)}
          or i.name ilike ${anywhere(text)}
          or l.number ilike ${anywhere(text)}
          or c.label ilike ${anywhere(text)}
      )`
const inGroup = (group: number | null): SQL =>
  group === null
    ? sql`true`
    : sql`
      i.group_id in (
        with recursive down as (
          select id
          from item_groups
          where id = ${group}
          union
          select g.id
          from item_groups g
          join down on g.parent_id = down.id
        )
        select id
        from down
      )`
const ofTrait = (name: string, value: string): SQL => {
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
const SORTS: Readonly<Record<string, SQL>> = {
  code: sql`i.code, p.code, l.number, c.label`,
  '-code': sql`i.code desc, p.code, l.number`,
  bin: sql`p.pick_order, p.code, i.code, l.number`,
  '-bin': sql`p.pick_order desc, p.code desc, i.code`,
  expires: sql`l.expires_on nulls last, i.code`,
  '-expires': sql`l.expires_on desc nulls last, i.code`,
  onHand: sql`b.on_hand, i.code`,
  '-onHand': sql`b.on_hand desc, i.code`,
}

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
  const far = sql`${inGroup(query.group)} and ${ofTrait(query.trait, query.value)}`
  const joins = sql`
    join items i on i.id = b.item_id
    join places p on p.id = b.place_id
    left join lots l on l.id = b.lot_id
    left join pieces c on c.id = b.piece_id`
  const plain = query.trait === '' && query.value === '' && query.group === null
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
const pageOf = (query: Query): SQL =>
  sql`
    order by ${SORTS[query.sort] ?? SORTS.code!}, b.item_id, b.place_id, b.lot_id, b.piece_id, b.status
    limit ${query.size}
    offset ${(query.page - 1) * query.size}`

/** The same orders, by what needs no lot or piece to be looked up: for choosing a page among very many. */
const SORTS_ON: Readonly<Record<string, SQL>> = {
  code: sql`i.code`,
  '-code': sql`i.code desc`,
  bin: sql`p.pick_order, p.code, i.code`,
  '-bin': sql`p.pick_order desc, p.code desc, i.code`,
  expires: SORTS.expires!,
  '-expires': SORTS['-expires']!,
  onHand: SORTS.onHand!,
  '-onHand': SORTS['-onHand']!,
}

/** What lay where on the evening of a day: what lies there now, or lay there at the end of the nearest month that is kept, less (or with) what has moved between. Whatever narrows it does so before anything is summed. */
async function listBalancesOn(tx: Reader, query: Query, asOf: string): Promise<Paged<BalanceRow>> {
  const items =
    query.search === '' && query.group === null
      ? sql`true`
      : sql`
        item_id in (
          select i.id
          from items i
          where ${
            query.search === ''
              ? sql` true`
              : sql`
                (
                  i.code ilike ${anywhere(query.search)}
                    or i.name ilike ${anywhere(query.search)}
                    or i.id in (select item_id from lots where number ilike ${anywhere(query.search)})
                )`
          }
            and ${inGroup(query.group)}
        )`
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
  const base =
    end === undefined
      ? sql`select item_id, place_id, lot_id, piece_id, status, on_hand as quantity from balances where on_hand > 0`
      : sql`
        select item_id, place_id, lot_id, piece_id, status, on_hand as quantity
        from month_balances
        where month = ${end.month}`
  let between
  if (end === undefined) {
    between = sql`effective_on > ${asOf}`
  } else if (end.earlier) {
    between = sql`effective_on > ${end.month} and effective_on <= ${asOf}`
  } else {
    between = sql`effective_on > ${asOf} and effective_on <= ${end.month}`
  }
  const [came, went] = end?.earlier ? [sql`quantity`, sql`-quantity`] : [sql`-quantity`, sql`quantity`]
  const byTrait = query.trait !== '' || query.value !== ''
  const sort = query.sort in SORTS_ON ? query.sort : 'code'
  // By code, the first items that lie there at all hold every row of the page: the rest need not be sorted.
  const leads = !byTrait && sort.endsWith('code') && query.page <= 20
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
              order by ${SORTS_ON[sort]!}
              limit ${query.page * query.size}
            ),`
          : sql``
      } page as materialized (
        select b.*, ${byTrait ? sql`count(*) over ()::int` : sql`(select count(*)::int from b)`} as total
        from b
        join ${
          leads
            ? sql` first_items i on i.id = b.item_id`
            : sql` items i on i.id = b.item_id join places p on p.id = b.place_id`
        } ${
          byTrait || sort.endsWith('expires')
            ? sql` left join lots l on l.id = b.lot_id left join pieces c on c.id = b.piece_id`
            : sql``
        }
        where ${ofTrait(query.trait, query.value)}
        order by ${SORTS_ON[sort]!}, b.place_id, b.lot_id, b.piece_id, b.status
        limit ${query.size}
        offset ${(query.page - 1) * query.size}
      )
      select
        concat_ws('|', b.item_id, b.place_id, b.lot_id, b.piece_id, b.status) as id, ${BALANCE_FIELDS}, b.total
      from page b
      join items i on i.id = b.item_id
      join places p on p.id = b.place_id
      left join lots l on l.id = b.lot_id
      left join pieces c on c.id = b.piece_id
      join units u on u.code = i.stock_unit
      left join sites s on s.id = p.site_id
      order by ${SORTS[query.sort] ?? SORTS.code!}`,
  )
  return {
    rows: found.map(({ total, ...row }) => {
      void total
      return row
    }),
    total: found[0]?.total ?? 0,
  }
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
      and ${inGroup(query.group)}`
  const plain = query.search === '' && query.site === null && query.group === null
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
  // Moves are never removed: the highest number tells how many there are, near enough for paging, without going through millions.
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
      order by m.id desc
      limit ${query.size}
      offset ${(query.page - 1) * query.size}`,
  )
  return { rows: list, total: count!.total }
}

export interface SiteStockRow {
  id: string
  itemId: number
  code: string
  name: string
  siteId: number
  site: string
  symbol: string
  decimals: number
  onHand: string
  allocated: string
  available: string
  held: string
  coming: string
  inTransit: string
  backOrder: string
  safety: string
}

/**
 * What each site holds of each item: on hand, allocated, available (on hand in status available, less allocated), on hold and the like, on order, on its way
 * there, and what orders of the site still want beyond what is available.
 *
 * What is on order arrives at the first site; sales orders are the site's of their customer, else the first's.
 */
export async function listBySite(query: z.output<typeof SiteQuery>): Promise<Paged<SiteStockRow>> {
  const first = sql`(select min(id) from sites where not retired)`
  const searched =
    query.search === ''
      ? sql`true`
      : sql`(i.code ilike ${anywhere(query.search)} or i.name ilike ${anywhere(query.search)})`
  const own = sql`
    ${searched}
      and (${query.item}::int is null or i.id = ${query.item})
      and (${query.site}::int is null or s.id = ${query.site})
      and ${inGroup(query.group)}`
  /** Where goods of an item are, come to, or are wanted; with what is there and wanted, of some items or of all. */
  const facts = (item: (column: SQL) => SQL): SQL => sql`
    select
      b.item_id, p.site_id, case when b.status = 'available' then b.on_hand else 0 end as on_hand, b.allocated,
      case when b.status <> 'available' then b.on_hand else 0 end as held, 0::numeric as coming,
      0::numeric as transit, 0::numeric as wanted
    from balances b
    join places p on p.id = b.place_id and p.kind = 'bin'
    where b.on_hand > 0 and ${item(sql`b.item_id`)}
    union all
    select l.item_id, ${first}, 0, 0, 0, l.quantity - l.received, 0, 0
    from purchase_lines l
    join purchase_orders o on o.id = l.order_id
    where o.status = 'open' and not l.closed_short and l.received < l.quantity and ${item(sql`l.item_id`)}
    union all
    select l.item_id, t.to_site_id, 0, 0, 0, 0, l.shipped - l.received - l.lost, 0
    from transfer_lines l
    join transfers t on t.id = l.transfer_id
    where t.status = 'open' and l.shipped > l.received + l.lost and ${item(sql`l.item_id`)}
    union all
    select
      l.item_id, coalesce(c.site_id, ${first}), 0, 0, 0, 0, 0,
      l.quantity - l.shipped - coalesce(
        (select sum(a.quantity) from allocations a where a.sales_line_id = l.id), 0
      )
    from sales_lines l
    join sales_orders o on o.id = l.order_id
    join customers c on c.id = o.customer_id
    where o.status = 'open' and l.shipped < l.quantity and ${item(sql`l.item_id`)}`
  const summed = (from: SQL): SQL => sql`
    select
      x.item_id, x.site_id, sum(x.on_hand) as on_hand, sum(x.allocated) as allocated, sum(x.held) as held,
      sum(x.coming) as coming, sum(x.transit) as transit, sum(x.wanted) as wanted
    from (${from}) x
    group by 1, 2`
  // Every item and site that has anything to say; what is short needs the sums of all, otherwise those of the page do.
  const pairs =
    query.short === 'yes'
      ? sql`select item_id, site_id from (${summed(facts(() => sql`true`))}) n where wanted > on_hand - allocated`
      : sql`
        select b.item_id, p.site_id
        from balances b
        join places p on p.id = b.place_id and p.kind = 'bin'
        where b.on_hand > 0
        group by 1, 2
        union
        select l.item_id, ${first}
        from purchase_lines l
        join purchase_orders o on o.id = l.order_id
        where o.status = 'open' and not l.closed_short and l.received < l.quantity
        union
        select l.item_id, t.to_site_id
        from transfer_lines l
        join transfers t on t.id = l.transfer_id
        where t.status = 'open' and l.shipped > l.received + l.lost
        union
        select l.item_id, coalesce(c.site_id, ${first})
        from sales_lines l
        join sales_orders o on o.id = l.order_id
        join customers c on c.id = o.customer_id
        where o.status = 'open' and l.shipped < l.quantity`
  const found = await rows<SiteStockRow & { total: number }>(
    db,
    sql`
      with pairs as materialized (
        select a.item_id, a.site_id, i.code, s.name
        from (${pairs}) a
        join items i on i.id = a.item_id and i.kind = 'stocked'
        join sites s on s.id = a.site_id
        where ${own}
      ),
      page as materialized (
        select *
        from pairs
        order by ${query.sort === 'site' ? sql`name, code` : sql`code, name`}
        limit ${query.size}
        offset ${(query.page - 1) * query.size}
      ),
      a as (${summed(facts((column) => sql`${column} in (select item_id from page)`))})
      select
        i.id || '|' || s.id as id, i.id as "itemId", i.code, i.name, s.id as "siteId", s.name as site, u.symbol,
        u.decimals, trim_scale(coalesce(a.on_hand, 0))::text as "onHand",
        trim_scale(coalesce(a.allocated, 0))::text as allocated,
        trim_scale(coalesce(a.on_hand - a.allocated, 0))::text as available,
        trim_scale(coalesce(a.held, 0))::text as held, trim_scale(coalesce(a.coming, 0))::text as coming,
        trim_scale(coalesce(a.transit, 0))::text as "inTransit",
        trim_scale(greatest(coalesce(a.wanted - (a.on_hand - a.allocated), 0), 0))::text as "backOrder",
        trim_scale(i.safety_stock)::text as safety, (select count(*)::int from pairs) as total
      from page g
      join items i on i.id = g.item_id
      join sites s on s.id = g.site_id
      join units u on u.code = i.stock_unit
      left join a on a.item_id = g.item_id and a.site_id = g.site_id
      order by ${query.sort === 'site' ? sql`s.name, i.code` : sql`i.code, s.name`}`,
  )
  return {
    rows: found.map(({ total, ...row }) => {
      void total
      return row
    }),
    total: found[0]?.total ?? 0,
  }
}

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

/**
 * Lots, and pieces one by one, with their traits and where they lie.
 *
 * Items are walked in the order of their codes, so that a page is found without looking at all lots; what lies where is summed for the page alone.
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
      and ${held}`
  const all =
    query.search === '' &&
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
        select i.id as item_id, i.code, i.name, i.stock_unit, x.lot_id, x.piece_id ${from}
        order by ${query.sort === 'expires' ? sql`l.expires_on nulls last, i.code` : sql`i.code, l.number, c.label`}
        limit ${query.size}
        offset ${(query.page - 1) * query.size}
      )
      select
        concat_ws('|', x.lot_id, x.piece_id, x.item_id) as id, x.lot_id as "lotId", x.piece_id as "pieceId",
        x.item_id as "itemId", x.code, x.name, l.number as lot, c.label as piece,
        coalesce(l.supplier_number, '') as "supplierNumber", l.received_on as "receivedOn",
        l.expires_on as "expiresOn", l.best_before_on as "bestBeforeOn",
        coalesce(l.traits, '{}') || coalesce(c.traits, '{}') as traits,
        trim_scale(c.original)::text as original, trim_scale(coalesce(h.on_hand, 0))::text as "onHand",
        trim_scale(coalesce(h.held, 0))::text as held, u.symbol, u.decimals, coalesce(h.places, '') as
      where
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
      order by ${query.sort === 'expires' ? sql`l.expires_on nulls last, x.code` : sql`x.code, l.number, c.label`}`,
  )
  return { rows: list, total: count!.total }
}

export interface LedgerDifference {
  itemId: number
  place: string
  lot: string | null
  status: string
  onHand: string
  moved: string
}

/** Works the balances out again from the moves alone, and names every one that differs; none should. */
export async function compareLedger(): Promise<LedgerDifference[]> {
  return rows<LedgerDifference>(
    db,
    sql`
      with ends as (
        select item_id, to_place_id as place_id, lot_id, piece_id, to_status as status, quantity
        from moves
        where to_status is not null
        union all
        select item_id, from_place_id, lot_id, piece_id, from_status, -quantity
        from moves
        where from_status is not null
      ),
      moved as (
        select item_id, place_id, lot_id, piece_id, status, sum(quantity) as quantity
        from ends
        group by 1, 2, 3, 4, 5
      )
      select
        coalesce(b.item_id, m.item_id) as "itemId", p.name as place, l.number as lot,
        coalesce(b.status, m.status) as status, coalesce(b.on_hand, 0) as "onHand",
        coalesce(m.quantity, 0) as moved
      from balances b
      full join moved m on m.item_id = b.item_id
        and m.place_id = b.place_id
        and m.lot_id is not distinct from b.lot_id
        and m.piece_id is not distinct from b.piece_id
        and m.status = b.status
      join places p on p.id = coalesce(b.place_id, m.place_id)
      left join lots l on l.id = coalesce(b.lot_id, m.lot_id)
      where coalesce(b.on_hand, 0) <> coalesce(m.quantity, 0)`,
  )
}
