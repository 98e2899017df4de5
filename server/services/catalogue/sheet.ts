import { sql } from 'drizzle-orm'
import { ratio, toText, type Ratio } from '~~/core/units/exact'
import { db, rows } from '~~/server/database/client'
import { stockLevelsOn } from '~~/core/stock/levels'
import { loadMeasuredItem } from '../catalogue/measured-items'
import { loadDefinition } from './definitions'
import { inUse } from '../structure/edges'
import { whereUsedOf } from '../structure/questions'
import { loadDatedChanges } from '../stock/dated-changes'
import type { TimelineRow } from '../../../shared/catalogue/answers'

/** The marks that count today where the company works: the item's own, overlaid by season. */
async function marksToday(
  id: number,
  today: string,
): Promise<{
  safetyStock: string
  reorderPoint: string | null
  targetStock: string | null
  maximumStock: string | null
}> {
  const item = await loadDefinition(db, 'items', id)
  const [site] = await rows<{ id: number }>(db, sql`select id from sites order by id limit 1`)
  const marks = stockLevelsOn(item, item.marks, site?.id ?? 0, today)
  return { ...marks, safetyStock: marks.safetyStock ?? '0' }
}

/** Units that an item has of its own, its stock unit first. */
async function unitsOf(id: number): Promise<{ value: string; name: string }[]> {
  return rows(
    db,
    sql`
      select u.code as value, u.name
      from units u
      join (
        select stock_unit as unit, 0 as place
        from items
        where id = ${id}
        union
        select buying_unit, 1
        from items
        where id = ${id}
        union
        select selling_unit, 1
        from items
        where id = ${id}
        union
        select unit, 1
        from item_relations
        where item_id = ${id} and unit in (select code from units where dimension in ('pack', 'count'))
        union
        select unit, 1
        from item_codes
        where item_id = ${id} and unit is not null
      ) own on own.unit = u.code
      group by u.code, u.name
      order by min(own.place), u.name`,
  )
}

/**
 * What the side sheet says of an item: its stack, its timeline of supply and demand, where it lies, what goes in, what
 * it goes into. Stock unit.
 */
export async function itemSheet(id: number, today: string) {
  const item = await loadMeasuredItem(db, id, 'id')
  const [sums] = await rows<{
    onHand: string
    allocated: string
    held: string
    coming: string
    making: string
    wanted: string
    group: string
    supplier: string | null
    decimals: number
    pictureId: number | null
    unitCost: string | null
  }>(
    db,
    sql`
      select
        coalesce(
          (select sum(on_hand) from balances where item_id = ${id} and status = 'available'), 0
        ) as "onHand",
        coalesce((select sum(allocated) from balances where item_id = ${id}), 0) as allocated,
        coalesce(
          (
            select sum(on_hand)
            from balances
            where item_id = ${id} and status not in ('available', 'on the way')
          ),
          0
        ) as held,
        coalesce(
          (
            select sum(l.quantity - l.received)
            from purchase_lines l
            join purchase_orders o on o.id = l.order_id
            where l.item_id = ${id} and o.status = 'open' and not l.closed_short and l.received < l.quantity
          ),
          0
        ) as coming,
        coalesce(
          (
            select sum(greatest(quantity - made, 0))
            from builds
            where item_id = ${id} and status in ('draft', 'ready', 'started')
          ),
          0
        ) as making,
        coalesce(
          (
            select sum(l.quantity - l.shipped)
            from sales_lines l
            join sales_orders o on o.id = l.order_id
            where l.item_id = ${id} and o.status = 'open'
          ),
          0
        ) as wanted,
        (select g.name from items i join item_groups g on g.id = i.group_id where i.id = ${id}) as "group",
        (
          select s.name
          from supplier_terms t
          join suppliers s on s.id = t.supplier_id
          where t.item_id = ${id}
          order by t.rank
          limit 1
        ) as supplier,
        (select picture_id from items where id = ${id}) as "pictureId",
        (
          select (sum(value) / nullif(sum(quantity), 0))::text from holdings where item_id = ${id}
        ) as "unitCost",
        (select u.decimals from items i join units u on u.code = i.stock_unit where i.id = ${id}) as decimals`,
  )
  const places = await rows<{
    bin: string
    site: string
    lot: string | null
    lotId: number | null
    piece: string | null
    pieceId: number | null
    expiresOn: string | null
    status: string
    onHand: string
    allocated: string
  }>(
    db,
    sql`
      select
        p.name as bin, coalesce(s.name, '') as site, l.number as lot, b.lot_id as "lotId", c.label as piece,
        b.piece_id as "pieceId", l.expires_on as "expiresOn", b.status, b.on_hand as "onHand", b.allocated
      from balances b
      join places p on p.id = b.place_id
      left join sites s on s.id = p.site_id
      left join lots l on l.id = b.lot_id
      left join pieces c on c.id = b.piece_id
      where b.item_id = ${id} and b.on_hand > 0
      order by l.expires_on nulls last, p.pick_order, l.number, c.label`,
  )
  const madeOf = await rows<{ itemId: number; code: string; name: string; quantity: string; unit: string }>(
    db,
    sql`
      select
        l.item_id as "itemId", i.code, i.name,
        trim_scale(round(l.numerator / l.denominator, 6))::text as quantity, l.unit
      from bom_lines l
      join boms b on b.id = l.bom_id and ${inUse(today)}
      join items i on i.id = l.item_id
      where b.item_id = ${id}
      order by l.position`,
  )
  return {
    id,
    code: item.code,
    name: item.name,
    status: item.status,
    source: item.source,
    tracking: item.tracking,
    symbol: item.symbol,
    ...sums!,
    ...(await marksToday(id, today)),
    units: await unitsOf(id),
    substitutes: await rows<{ id: number; code: string; name: string }>(
      db,
      sql`
        select i.id, i.code, i.name
        from item_substitutes s
        join items i on i.id = s.substitute_id
        where s.item_id = ${id}`,
    ),
    places,
    timeline: await timelineOf(id, ratio(sums!.onHand)),
    madeOf,
    whereUsed: await whereUsedOf(id, today),
  }
}

async function timelineOf(id: number, onHand: Ratio): Promise<TimelineRow[]> {
  let balance = onHand
  return (await loadDatedChanges(db, [id])).map(({ day, kind, label, link, quantity }) => {
    balance = balance.add(quantity)
    return { day, kind, label, link, change: toText(quantity), balance: toText(balance) }
  })
}
