import { sql } from 'drizzle-orm'
import { parts, ratio } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import { beginningStep } from '~~/shared/catalogue/measure'

/** A stored quantity that does not fall on a step, where it stands, and a step that holds all that is stored. */
export interface OffStep {
  readonly quantity: string
  readonly where: string
  readonly better: string
}

/**
 * What keeps an item from another finest step: a stored quantity that would not fall on it. Null where there is none; a
 * step that divides the one before holds all that is stored and is not looked into.
 */
export async function findOffStep(tx: Tx, itemId: number, before: string, step: string): Promise<OffStep | null> {
  if (parts(ratio(before).div(ratio(step))).d === 1n) {
    return null
  }
  const [found] = await rows<Omit<OffStep, 'better'> & { decimals: number }>(
    tx,
    sql`
      select trim_scale(quantity)::text as quantity, place as "where",
        max(scale(trim_scale(quantity))) over ()::int as decimals
      from (
        select quantity, 'in stock moves' as place from moves where item_id = ${itemId}
        union all
        select quantity, 'on a sales order' from sales_lines where item_id = ${itemId}
        union all
        select quantity, 'on a purchase order' from purchase_lines where item_id = ${itemId}
        union all
        select need, 'in a build' from build_lines where item_id = ${itemId}
        union all
        select quantity, 'in a build' from builds where item_id = ${itemId}
        union all
        select quantity, 'on a transfer' from transfer_lines where item_id = ${itemId}
        union all
        select quantity, 'in a forecast' from forecast_cells where item_id = ${itemId}
      ) stored
      order by mod(quantity, ${step}::numeric) <> 0 desc, quantity
      limit 1`,
  )
  return found && parts(ratio(found.quantity).div(ratio(step))).d !== 1n
    ? { quantity: found.quantity, where: found.where, better: beginningStep(found) }
    : null
}
