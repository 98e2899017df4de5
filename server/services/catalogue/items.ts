import { sql, type SQL } from 'drizzle-orm'
import type * as z from 'zod'
import { db, rows, type Tx } from '~~/server/database/client'
import {
  anywhere,
  filteredBy,
  groupsBelow,
  MEASURED_ITEM,
  onePage,
  sortedBy,
  type ListColumns,
} from '~~/server/database/sql'
import type { Actor } from '~~/server/utils/route'
import type { ItemQuery } from '~~/shared/catalogue/requests'
import type { ItemEdit } from '~~/shared/catalogue/item'
import type { Paged } from '~~/shared/primitives'
import { loadDefinition, loadGroupDefaults, saveOne, shapeOf } from './definitions'
import type { ItemRow } from '../../../shared/catalogue/answers'

const ON_HAND = sql`
  coalesce((select sum(on_hand) from balances b where b.item_id = i.id and b.status = 'available'), 0)`
const COMING = sql`
  coalesce(
    (
      select sum(greatest(l.quantity - l.received, 0))
      from purchase_lines l
      join purchase_orders o on o.id = l.order_id
      where l.item_id = i.id and o.status = 'open' and not l.closed_short
    ),
    0
  ) + coalesce(
    (
      select sum(greatest(quantity - made, 0))
      from builds b
      where b.item_id = i.id and b.status in ('draft', 'ready', 'started')
    ),
    0
  )`
const WANTED = sql`
  coalesce(
    (
      select sum(l.quantity - l.shipped)
      from sales_lines l
      join sales_orders o on o.id = l.order_id
      where l.item_id = i.id and o.status = 'open'
    ),
    0
  )`
const VALUE = sql`coalesce((select sum(value) from holdings h where h.item_id = i.id), 0)`
const BARCODE = sql`
  (
    select c.code
    from item_codes c
    where c.item_id = i.id and c.kind = 'barcode'
    order by (c.unit = i.stock_unit) desc, c.id
    limit 1
  )`
/** A fact of the supplier who comes first. */
const ofSupplier = (fact: SQL): SQL => sql`
  (
    select ${fact}
    from supplier_terms t
    join suppliers s on s.id = t.supplier_id
    where t.item_id = i.id
    order by t.rank, t.id
    limit 1
  )`

const COLUMNS: ListColumns = {
  code: { sql: sql`i.code`, kind: 'text' },
  name: { sql: sql`lower(i.name)`, kind: 'text' },
  name2: { sql: sql`i.name2`, kind: 'text' },
  group: { sql: sql`(select name from item_groups g where g.id = i.group_id)`, kind: 'text' },
  source: { sql: sql`i.source`, kind: 'text' },
  tracking: { sql: sql`i.tracking`, kind: 'text' },
  price: { sql: sql`i.price`, kind: 'number' },
  safetyStock: { sql: sql`i.safety_stock`, kind: 'number' },
  onHand: { sql: ON_HAND, kind: 'number' },
  coming: { sql: COMING, kind: 'number' },
  wanted: { sql: WANTED, kind: 'number' },
  value: { sql: VALUE, kind: 'number' },
  barcode: { sql: BARCODE, kind: 'text' },
  supplier: { sql: ofSupplier(sql`s.name`), kind: 'text' },
  supplierCode: { sql: ofSupplier(sql`t.supplier_code`), kind: 'text' },
}

/** The condition that a filter of the list stands for; `i` is the item. */
function filterOf(query: z.output<typeof ItemQuery>): SQL {
  const like = anywhere(query.search)
  const parts = [
    ...(query.search === ''
      ? []
      : [
          sql`
            i.id in (
              select n.ref
              from names n
              where n.kind in ('item', 'item code') and n.code || ' ' || n.name ilike ${like}
            )`,
        ]),
    ...(query.status === '' ? [] : [sql`i.status = ${query.status}`]),
    ...(query.source === '' ? [] : [sql`i.source = ${query.source}`]),
    ...(query.kind === '' ? [] : [sql`i.kind = ${query.kind}`]),
    ...(query.group === undefined
      ? []
      : [
          sql`
            i.group_id in ${groupsBelow(sql`id = ${query.group}`)}`,
        ]),
    ...(query.supplier === undefined
      ? []
      : [sql`exists (select 1 from supplier_terms t where t.item_id = i.id and t.supplier_id = ${query.supplier})`]),
  ]
  return sql.join([...parts, filteredBy(query.filter, COLUMNS)], sql` and `)
}

/** All items that a filter finds. */
export const itemIds = async (query: z.output<typeof ItemQuery>): Promise<number[]> =>
  (await rows<{ id: number }>(db, sql`select i.id from items i where ${filterOf(query)} order by i.code`)).map(
    (row) => row.id,
  )

/** Items with what is there, set aside, coming and wanted, in the stock unit. */
export async function listItems(query: z.output<typeof ItemQuery>): Promise<Paged<ItemRow>> {
  const where = filterOf(query)
  // The page is found first, by an index where there is one; what is there, coming and wanted is then summed for its
  // rows only.
  const order = sortedBy(query.sort, COLUMNS, sql`i.code`)
  const [count] = await rows<{ total: number }>(db, sql`select count(*)::int as total from items i where ${where}`)
  const list = await rows<ItemRow>(
    db,
    sql`
      with page as materialized (
        select i.id, row_number() over (order by ${order}) as place
        from items i
        where ${where}
        order by ${order}
        ${onePage(query)}
      )
      select
        i.id, i.code, i.name, g.name as "group", i.status, i.source, i.tracking, i.stock_unit as "stockUnit",
        i.symbol, i.decimals, i.safety_stock as "safetyStock", i.picture_id as "pictureId", i.name2, i.price,
        (select symbol from units where code = i.selling_unit) as "sellingSymbol", i.lead_days as "leadDays",
        t.supplier, t.supplier_code as "supplierCode",
        ${BARCODE} as barcode,
        ${ON_HAND} as "onHand",
        coalesce((select sum(allocated) from balances b where b.item_id = i.id), 0) as allocated,
        ${COMING} as coming, ${WANTED} as wanted,
        coalesce((select sum(value) from holdings h where h.item_id = i.id), 0)::text as value
      from page p
      join ${MEASURED_ITEM} i on i.id = p.id
      join item_groups g on g.id = i.group_id
      left join lateral (
        select s.name as supplier, t.supplier_code
        from supplier_terms t
        join suppliers s on s.id = t.supplier_id
        where t.item_id = i.id
        order by t.rank, t.id
        limit 1
      ) t on true
      order by p.place`,
  )
  return { rows: list, total: count!.total }
}

/** An item as its page edits it, with what its group says. */
export async function loadItem(id: number) {
  const item = await loadDefinition(db, 'items', id)
  return { ...item, groupSays: (await loadGroupDefaults(db)).get(item.groupId) ?? {} }
}

export const createItem = (tx: Tx, actor: Actor, definition: ItemEdit): Promise<{ id: number }> =>
  saveOne(tx, actor, shapeOf('items'), { id: null, version: null, definition })

/**
 * Errors: `stale-version`; `invalid-input` beside its field; `needs-yes` where other packs or bridges change what is in
 *         use.
 */
export const changeItem = (
  tx: Tx,
  actor: Actor,
  edit: { readonly id: number; readonly version: number; readonly definition: ItemEdit },
  how: { readonly confirmed: boolean },
): Promise<{ id: number }> => saveOne(tx, actor, shapeOf('items'), edit, how)
