import { sql } from 'drizzle-orm'
import { groupBy } from '~~/core/group-by'
import { rows, type Tx } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'

/** Items of which stock has moved. */
export async function movedItems(tx: Tx, ids: readonly number[]): Promise<Set<number>> {
  if (ids.length === 0) {
    return new Set()
  }
  return new Set(
    (
      await rows<{ id: number }>(
        tx,
        sql`
          select id
          from items
          where ${anyOf(sql`id`, ids)} and exists (select 1 from moves where item_id = items.id)`,
      )
    ).map((row) => row.id),
  )
}

/** Items that documents and forecasts count in their stock unit. */
export async function countedItems(tx: Tx, ids: readonly number[]): Promise<Set<number>> {
  if (ids.length === 0) {
    return new Set()
  }
  const isOne = anyOf(sql`item_id`, ids)
  const found = await rows<{ id: number }>(
    tx,
    sql`
      select item_id as id from sales_lines where ${isOne}
      union
      select item_id from purchase_lines where ${isOne}
      union
      select item_id from transfer_lines where ${isOne}
      union
      select item_id from builds where ${isOne}
      union
      select item_id from build_lines where ${isOne}
      union
      select item_id from forecast_cells where ${isOne}
      union
      select item_id from past_sales where ${isOne}`,
  )
  return new Set(found.map((row) => row.id))
}

/** Units in which bills, break-downs and open orders speak of items. */
export async function unitsInUse(tx: Tx, ids: readonly number[]): Promise<Map<number, { unit: string; by: string }[]>> {
  if (ids.length === 0) {
    return new Map()
  }
  const belongsToItems = anyOf(sql`x.item_id`, ids)
  const found = await rows<{ id: number; unit: string; by: string }>(
    tx,
    sql`
      select x.item_id as id, x.unit, 'The bill of ' || i.code as by
      from bom_lines x
      join boms b on b.id = x.bom_id
      join items i on i.id = b.item_id
      where ${belongsToItems}
      union
      select x.item_id, x.unit, 'The bill of ' || i.code
      from bom_by_products x
      join boms b on b.id = x.bom_id
      join items i on i.id = b.item_id
      where ${belongsToItems}
      union
      select x.item_id, x.batch_unit, 'Its bill of materials'
      from boms x
      where ${belongsToItems}
      union
      select x.item_id, x.unit, 'Its break-down'
      from recipes x
      where ${belongsToItems}
      union
      select x.item_id, x.loss_unit, 'Its break-down'
      from recipes x
      where ${belongsToItems} and x.loss_unit is not null
      union
      select x.item_id, x.unit, 'The break-down of ' || i.code
      from recipe_outputs x
      join recipes r on r.id = x.recipe_id
      join items i on i.id = r.item_id
      where ${belongsToItems}
      union
      select x.item_id, x.unit, o.number
      from sales_lines x
      join sales_orders o on o.id = x.order_id
      where ${belongsToItems} and o.status = 'open'
      union
      select x.item_id, x.unit, o.number
      from purchase_lines x
      join purchase_orders o on o.id = x.order_id
      where ${belongsToItems} and o.status = 'open'`,
  )
  return groupBy(found, (use) => use.id)
}
