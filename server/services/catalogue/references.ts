import { asc, sql, type SQL } from 'drizzle-orm'
import { db, rows } from '~~/server/database/client'
import { calendars, currencies, customers, itemGroups, priceLists, sites, suppliers } from '~~/server/database/schema'
import { loadGroupDefaults, shapeOf } from './definitions'
import { loadUnits } from './measured-items'
import type { DefinitionRow } from '../../../shared/catalogue/answers'

/**
 * What fields choose from: units, groups with what they hand down, suppliers, customers, sites, bins, calendars, price
 * lists, currencies.
 */
export async function loadReferences() {
  const named = { id: suppliers.id, code: suppliers.code, name: suppliers.name, retired: suppliers.retired }
  const [units, groups, summary, supplierRows, customerRows, siteRows, bins, calendarRows, lists, currencyRows] =
    await Promise.all([
      loadUnits(db),
      db
        .select({
          id: itemGroups.id,
          code: itemGroups.code,
          name: itemGroups.name,
          parentId: itemGroups.parentId,
          traits: itemGroups.traits,
        })
        .from(itemGroups)
        .orderBy(asc(itemGroups.name)),
      loadGroupDefaults(db),
      db
        .select({ ...named, currencyId: suppliers.currencyId })
        .from(suppliers)
        .orderBy(asc(suppliers.name)),
      db
        .select({
          id: customers.id,
          code: customers.code,
          name: customers.name,
          retired: customers.retired,
          priceListId: customers.priceListId,
        })
        .from(customers)
        .orderBy(asc(customers.name)),
      db
        .select({ id: sites.id, code: sites.code, name: sites.name, retired: sites.retired })
        .from(sites)
        .orderBy(asc(sites.id)),
      shapeOf('bins').load(db, 'all'),
      db.select({ id: calendars.id, name: calendars.name }).from(calendars).orderBy(asc(calendars.name)),
      db
        .select({ id: priceLists.id, code: priceLists.code, name: priceLists.name, retired: priceLists.retired })
        .from(priceLists)
        .orderBy(asc(priceLists.name)),
      db
        .select({ id: currencies.id, code: currencies.code, name: currencies.name, retired: currencies.retired })
        .from(currencies)
        .orderBy(asc(currencies.code)),
    ])
  return {
    units,
    groups: groups.map((group) => ({ ...group, summary: summary.get(group.id) ?? {} })),
    suppliers: supplierRows,
    customers: customerRows,
    sites: siteRows,
    bins,
    calendars: calendarRows,
    priceLists: lists,
    currencies: currencyRows,
  }
}

const LISTS = {
  suppliers: sql`
    select
      s.id, s.code, s.name, s.retired,
      concat_ws(
        ' · ', nullif(s.email, ''), nullif(s.phone, ''),
        (select c.code from currencies c where c.id = s.currency_id),
        (select k.name from calendars k where k.id = s.calendar_id)
      ) as summary,
      (select count(*)::int from supplier_terms t where t.supplier_id = s.id) as used
    from suppliers s`,
  customers: sql`
    select
      c.id, c.code, c.name, c.retired,
      concat_ws(
        ' · ', nullif(c.address, ''), nullif(c.email, ''),
        (select p.name from price_lists p where p.id = c.price_list_id)
      ) as summary,
      (select count(*)::int from sales_orders o where o.customer_id = c.id and o.status = 'open') as used
    from customers c`,
  routes: sql`
    select
      r.id, r.code, r.name, r.retired,
      f.name || ' → ' || t.name || ', ' || r.days || case r.days when 1 then ' day' else ' days' end as summary,
      (
        select count(*)::int
        from transfers x
        where x.from_site_id = r.from_site_id and x.to_site_id = r.to_site_id and x.status = 'open'
      ) as used
    from routes r
    join sites f on f.id = r.from_site_id
    join sites t on t.id = r.to_site_id`,
  'price-lists': sql`
    select
      l.id, l.code, l.name, l.retired,
      concat_ws(
        ' · ', nullif(l.note, ''),
        (select count(*) || ' customers' from customers c where c.price_list_id = l.id having count(*) > 0)
      ) as summary,
      (select count(*)::int from item_prices p where p.price_list_id = l.id) as used
    from price_lists l`,
  sites: sql`
    select
      s.id, s.code, s.name, s.retired,
      concat_ws(
        ' · ', case when s.outside then 'outside warehouse' end, nullif(s.address, ''),
        (select k.name from calendars k where k.id = s.calendar_id)
      ) as summary,
      (select count(*)::int from places p where p.site_id = s.id and not p.retired) as used
    from sites s`,
  bins: sql`
    select
      p.id, p.code, p.name, p.retired,
      concat_ws(
        ' · ', (select s.name from sites s where s.id = p.site_id), 'pick order ' || p.pick_order,
        case when p.closed_to_picking then 'closed to picking' end,
        case when p.closed_to_receiving then 'closed to receiving' end,
        case when p.quarantine then 'quarantine' end
      ) as summary,
      (select count(distinct b.item_id)::int from balances b where b.place_id = p.id and b.on_hand > 0) as used
    from places p
    where p.kind = 'bin'`,
  calendars: sql`
    select
      c.id, '' as code, c.name, false as retired,
      (select count(*) || ' closed days' from closed_days d where d.calendar_id = c.id) as summary,
      (
        (
          select count(*) from suppliers s where s.calendar_id = c.id
        ) + (select count(*) from sites s where s.calendar_id = c.id)
          + (select count(*) from company o where o.calendar_id = c.id)
      )::int as used
    from calendars c`,
  currencies: sql`
    select
      c.id, c.code, c.name, c.retired,
      coalesce(
        (
          select '1 ' || c.code || ' = ' || r.rate || ' since ' || r.from_on
          from exchange_rates r
          where r.currency_id = c.id
          order by r.from_on desc
          limit 1
        ),
        'no rate yet'
      ) as summary,
      (select count(*)::int from suppliers s where s.currency_id = c.id) as used
    from currencies c`,
  units: sql`
    select
      u.id, u.code, u.name, u.retired, u.dimension as summary,
      (
        (select count(*) from items i where i.stock_unit = u.code or i.buying_unit = u.code or i.selling_unit = u.code) + (
          select count(distinct r.item_id)
          from item_relations r
          where r.unit = u.code
            and not exists (
              select 1
              from items i
              where i.id = r.item_id and u.code in (i.stock_unit, i.buying_unit, i.selling_unit)
            )
        )
      )::int as used
    from units u`,
  groups: sql`
    select
      g.id, g.code, g.name, false as retired, g.number_pattern as summary,
      (select count(*)::int from items i where i.group_id = g.id) as used
    from item_groups g`,
} as const

export type ListKind = keyof typeof LISTS

/** What lists are ordered by that are not ordered by name. */
const ORDERS: Partial<Record<ListKind, SQL>> = { units: sql`id`, bins: sql`summary, code` }

/** Definitions of one kind with what there is to say of each at a glance, and how many use it. */
export const listDefinitions = (kind: ListKind): Promise<DefinitionRow[]> =>
  rows<DefinitionRow>(
    db,
    sql`
      select *
      from (${LISTS[kind]}) d
      order by retired, ${ORDERS[kind] ?? sql`name`}`,
  )
