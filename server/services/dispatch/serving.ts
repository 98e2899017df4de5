import { sql, type SQL } from 'drizzle-orm'
import { rows, type Reader } from '~~/server/database/client'
import { PICKABLE } from '~~/server/database/sql'
import { loadPlannedSites } from '../planning/planned-sites'

/** What of a line `l` of a sales order is allocated, or being packed for it. */
export const ALLOCATED = sql`
  coalesce((select sum(a.quantity) from allocations a where a.sales_line_id = l.id), 0) + coalesce(
    (
      select sum(k.quantity - k.made)
      from builds k
      join items t on t.id = k.item_id and t.source = 'kit' and t.kit_policy <> 'sealed'
      where k.sales_line_id = l.id and k.status = 'ready'
    ),
    0
  )`

/** What of a line `l` of a sales order a supplier delivers to the customer by themselves. */
export const DIRECT = sql`
  coalesce(
    (
      select sum(k.quantity - k.received)
      from purchase_lines k
      join purchase_orders p on p.id = k.order_id and p.status = 'open' and p.direct_order_id is not null
      where k.sales_line_id = l.id and k.received < k.quantity and not k.closed_short
    ),
    0
  )`

/** Sites by the area that shares their stock, as in a plan; what an order that names no site is served from. */
async function loadAreas(reader: Reader): Promise<{ readonly values: SQL; readonly usual: number }> {
  const { areas } = await loadPlannedSites(reader, { sites: [], sitesAsOne: false })
  const pairs = areas.sites.map((site) => sql`(${site}::int, ${areas.areaOf(site)!}::int)`)
  return { values: sql`values ${sql.join(pairs, sql`, `)}`, usual: areas.main }
}

/**
 * The open lines of open orders as they would be served, order by order: those due first, of these the higher priority,
 * then as they were entered. Each is served from the sites that share their stock with its own.
 *
 * Columns: `id` of the line, `order_id`, `item_id`, `line`, `open` (neither shipped nor allocated nor delivered directly), `free` (what of the
 * item is free there, for all), `got` (what of it falls to this line, at most what is open). Quantities in the stock
 * unit. `items`: only lines of these; all where absent.
 */
export async function servedLines(reader: Reader, items?: SQL): Promise<SQL> {
  const { values, usual } = await loadAreas(reader)
  const chosen = (item: SQL): SQL => (items === undefined ? sql`true` : sql`${item} in (${items})`)
  return sql`
    (
      with areas (site_id, area_id) as (${values}),
      lines as (
        select
          l.id, l.order_id, l.item_id, l.line, o.due_on, o.priority,
          coalesce(
            (select area_id from areas where site_id = coalesce(o.site_id, c.site_id, ${usual})), ${usual}
          ) as area_id,
          greatest(l.quantity - l.shipped - (${ALLOCATED}) - (${DIRECT}), 0) as open
        from sales_lines l
        join sales_orders o on o.id = l.order_id and o.status = 'open'
        join customers c on c.id = o.customer_id
        join items i on i.id = l.item_id and i.kind = 'stocked'
        where ${chosen(sql`l.item_id`)}
      ),
      free as (
        select b.item_id, a.area_id, sum(b.on_hand - b.allocated) as free
        from balances b
        join places p on p.id = b.place_id
        join areas a on a.site_id = p.site_id
        where ${PICKABLE} and b.on_hand > b.allocated and ${chosen(sql`b.item_id`)}
        group by 1, 2
      )
      select
        l.id, l.order_id, l.item_id, l.line, l.open, coalesce(f.free, 0) as free,
        greatest(
          least(
            l.open,
            coalesce(f.free, 0) + l.open - sum(l.open) over (
              partition by l.item_id, l.area_id
              order by l.due_on, l.priority desc, l.order_id, l.line
            )
          ),
          0
        ) as got
      from lines l
      left join free f on f.item_id = l.item_id and f.area_id = l.area_id
    )`
}

/** The sites from which an order is served: its own with those that share their stock with it. */
export async function servingSites(reader: Reader, orderId: number): Promise<ReadonlySet<number>> {
  const { areas } = await loadPlannedSites(reader, { sites: [], sitesAsOne: false })
  const [order] = await rows<{ siteId: number | null }>(
    reader,
    sql`
      select coalesce(o.site_id, c.site_id) as "siteId"
      from sales_orders o
      join customers c on c.id = o.customer_id
      where o.id = ${orderId}`,
  )
  return new Set(areas.sitesOf(areas.areaOf(order?.siteId ?? areas.main) ?? areas.main))
}
