import { sql, type SQL } from 'drizzle-orm'
import type * as z from 'zod'
import { db, rows } from '~~/server/database/client'
import { anywhere, filteredBy, MEASURED_ITEM, onePage, sortedBy, type ListColumns } from '~~/server/database/sql'
import type { Paged } from '~~/shared/primitives'
import type { SiteQuery } from '~~/shared/stock/requests'
import { inGroup } from './queries'

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

/** Sums of a site and item, `a`, where they decide over the order or what is shown. */
const SUMS = ['onHand', 'allocated', 'available', 'held', 'coming', 'inTransit', 'backOrder']
const COLUMNS: ListColumns = {
  code: { sql: sql`g.code`, kind: 'text' },
  site: { sql: sql`g.name`, kind: 'text' },
  safety: { sql: sql`g.safety_stock`, kind: 'number' },
  onHand: { sql: sql`coalesce(a.on_hand, 0)`, kind: 'number' },
  allocated: { sql: sql`coalesce(a.allocated, 0)`, kind: 'number' },
  available: { sql: sql`coalesce(a.on_hand - a.allocated, 0)`, kind: 'number' },
  held: { sql: sql`coalesce(a.held, 0)`, kind: 'number' },
  coming: { sql: sql`coalesce(a.coming, 0)`, kind: 'number' },
  inTransit: { sql: sql`coalesce(a.transit, 0)`, kind: 'number' },
  backOrder: { sql: sql`greatest(coalesce(a.wanted - (a.on_hand - a.allocated), 0), 0)`, kind: 'number' },
}
const needsSums = (query: z.output<typeof SiteQuery>): boolean =>
  [...query.sort.split(','), ...query.filter.map((filter) => filter.column)].some((key) =>
    SUMS.includes(key.replace(/^-/, '')),
  )

/**
 * What each site holds of each item: on hand, allocated, available (on hand in status available, less allocated), on
 * hold and the like, on order, on its way there, and what orders of the site still want beyond what is available.
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
  const isSummed = needsSums(query)
  const order = sortedBy(query.sort, COLUMNS, sql`g.code, g.name`)
  const found = await rows<SiteStockRow & { total: number }>(
    db,
    sql`
      with ${isSummed ? sql`a as materialized (${summed(facts(() => sql`true`))}),` : sql``} pairs as materialized (
        select g.*, row_number() over (order by ${order}) as place
        from (
          select n.item_id, n.site_id, i.code, s.name, i.safety_stock
          from (${pairs}) n
          join items i on i.id = n.item_id and i.kind = 'stocked'
          join sites s on s.id = n.site_id
          where ${own}
        ) g
        ${isSummed ? sql`left join a on a.item_id = g.item_id and a.site_id = g.site_id` : sql``}
        where ${filteredBy(query.filter, COLUMNS)}
      ),
      page as materialized (
        select *
        from pairs
        order by place
        ${onePage(query)}
      )
      ${isSummed ? sql`` : sql`, a as (${summed(facts((column) => sql`${column} in (select item_id from page)`))})`}
      select
        i.id || '|' || s.id as id, i.id as "itemId", i.code, i.name, s.id as "siteId", s.name as site, i.symbol,
        i.decimals, trim_scale(coalesce(a.on_hand, 0))::text as "onHand",
        trim_scale(coalesce(a.allocated, 0))::text as allocated,
        trim_scale(coalesce(a.on_hand - a.allocated, 0))::text as available,
        trim_scale(coalesce(a.held, 0))::text as held, trim_scale(coalesce(a.coming, 0))::text as coming,
        trim_scale(coalesce(a.transit, 0))::text as "inTransit",
        trim_scale(greatest(coalesce(a.wanted - (a.on_hand - a.allocated), 0), 0))::text as "backOrder",
        trim_scale(i.safety_stock)::text as safety, (select count(*)::int from pairs) as total
      from page g
      join ${MEASURED_ITEM} i on i.id = g.item_id
      join sites s on s.id = g.site_id
      left join a on a.item_id = g.item_id and a.site_id = g.site_id
      order by g.place`,
  )
  return {
    rows: found.map(({ total, ...row }) => {
      void total
      return row
    }),
    total: found[0]?.total ?? 0,
  }
}
