import { sql } from 'drizzle-orm'
import { rows, type Reader } from '~~/server/database/client'
import { anyOf, GROUP_ANCESTORS } from '~~/server/database/sql'
import type { InspectionPlanSeen } from '~~/shared/inspection/words'

/** When goods are inspected: as they come in, or as they were built. */
export type Occasion = 'receipts' | 'builds'
export type PlanInUse = InspectionPlanSeen & { readonly id: number }

/**
 * The plan by which goods are inspected, by item: the item's own, else that of the nearest group above it, else the
 * supplier's. Items that are not inspected are left out.
 */
export async function plansFor(
  reader: Reader,
  occasion: Occasion,
  itemIds: readonly number[],
  supplierId: number | null = null,
): Promise<ReadonlyMap<number, PlanInUse>> {
  const found = await rows<PlanInUse & { forItem: number }>(
    reader,
    sql`
      select distinct on (i.id)
        i.id as "forItem", p.id, p.code, p.name, p.rule, p.characteristics
      from items i
      join inspection_plans p on not p.retired
        and ${occasion === 'receipts' ? sql`p.on_receipts` : sql`p.on_builds`}
      left join ${GROUP_ANCESTORS} a on a.id = i.group_id and a.ancestor = p.group_id
      where ${anyOf(sql`i.id`, itemIds)}
        and (p.item_id = i.id or a.ancestor is not null or p.supplier_id = ${supplierId}::int)
      order by i.id, p.item_id is null, p.group_id is null, a.height, p.id`,
  )
  return new Map(found.map(({ forItem, ...plan }) => [forItem, plan]))
}
