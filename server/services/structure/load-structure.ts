import { sql } from 'drizzle-orm'
import { rows, type Reader } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'

import { loadMeasuredItems, type MeasuredItem } from '../catalogue/measured-items'
import { inUse } from './edges'
import {
  type BomHead,
  type BoundLine,
  type Unbound,
  type BoundBreakDown,
  bindBills,
  bindBreakDowns,
} from './bind-structure'

export interface LoadedStructure {
  readonly items: ReadonlyMap<number, MeasuredItem>
  /** The revision in use, by item. */
  readonly boms: ReadonlyMap<number, BomHead>
  readonly lines: readonly BoundLine[]
  /** Lines whose unit has no way to the component's stock unit. */
  readonly unbound: readonly Unbound[]
  readonly breakDowns: readonly BoundBreakDown[]
}

/** Everything; or some items with all that is below them, or with all that is above. */
export type Scope = 'all' | { readonly below: readonly number[] } | { readonly above: readonly number[] }

/**
 * Bills, kits and break-downs as they are on a day, with exact ratios in stock units. `instead` are revisions to be
 * taken for those in use.
 */
export async function loadStructure(
  reader: Reader,
  today: string,
  scope: Scope = 'all',
  instead: readonly number[] = [],
): Promise<LoadedStructure> {
  const ids = scope === 'all' ? 'all' : await idsIn(reader, today, scope, instead)
  const items = await loadMeasuredItems(reader, ids)
  const replaced =
    instead.length > 0
      ? sql`not exists (select 1 from boms o where ${anyOf(sql`o.id`, instead)} and o.item_id = b.item_id)`
      : sql`true`
  const chosen = sql`
    (${inUse(today)} and ${replaced}${instead.length > 0 ? sql` or ${anyOf(sql`b.id`, instead)}` : sql``})`
  const bound = await bindBills(
    reader,
    items,
    ids === 'all' ? chosen : sql`${chosen} and ${ids.length > 0 ? anyOf(sql`b.item_id`, ids) : sql`false`}`,
  )
  return {
    items: items,
    boms: new Map(bound.heads.map((head) => [head.itemId, head])),
    lines: bound.lines,
    unbound: bound.unbound,
    breakDowns: await bindBreakDowns(reader, items),
  }
}

/** The items of a scope, walked in the database: what is not asked for is not read. */
async function idsIn(
  reader: Reader,
  today: string,
  scope: Exclude<Scope, 'all'>,
  instead: readonly number[],
): Promise<number[]> {
  const chosen = instead.length > 0 ? sql`(${inUse(today)} or ${anyOf(sql`b.id`, instead)})` : inUse(today)
  const step =
    'below' in scope
      ? sql`
        (
          select l.item_id as next
          from boms b
          join bom_lines l on l.bom_id = b.id
          where b.item_id = r.id and ${chosen}
          union all
          select other.item_id
          from recipe_outputs o
          join recipes c on c.id = o.recipe_id
          join recipe_outputs other on other.recipe_id = c.id
          where o.item_id = r.id
          union all
          select c.item_id
          from recipe_outputs o
          join recipes c on c.id = o.recipe_id
          where o.item_id = r.id
        )`
      : sql`
        (
          select b.item_id as next
          from bom_lines l
          join boms b on b.id = l.bom_id
          where l.item_id = r.id and ${chosen}
        )`
  const start = 'below' in scope ? scope.below : scope.above
  if (start.length === 0) {
    return []
  }
  return (
    await rows<{ id: number }>(
      reader,
      sql`
        with recursive reach as (
          select unnest(${sql.param(start)}::int[]) as id
          union
          select e.next
          from reach r
          cross join lateral ${step} e
        )
        select id
        from reach`,
    )
  ).map((row) => row.id)
}
