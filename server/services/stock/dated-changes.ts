import { sql } from 'drizzle-orm'
import type { DatedChange } from '~~/core/stock'
import { ratio, ZERO } from '~~/core/units/exact'
import { rows, type Reader } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import type { TimelineRow } from '~~/shared/catalogue/answers'
import { givesOf, loadRecipes, takeOf } from '../workshop/break-downs'

/** A change of an item's stock that is still to come, with the document that brings or wants it. */
export interface DatedRow extends DatedChange {
  readonly itemId: number
  readonly kind: TimelineRow['kind']
  readonly label: string
  readonly link: string
  /** The job in the workshop that makes it or takes it: `build:12`, `break-down:3`; null of other documents. */
  readonly job: string | null
}

/**
 * All that is still to come and still to go of some items, at all sites together: orders, builds with what they take,
 * break-downs, goods on the way.
 */
export async function loadDatedChanges(reader: Reader, itemIds: readonly number[]): Promise<DatedRow[]> {
  const found = await rows<Omit<DatedRow, 'quantity'> & { quantity: string }>(
    reader,
    sql`
      select
        'sales:' || l.id as id, l.item_id as "itemId", o.due_on as day, 'sales order' as kind,
        o.number || ' ' || c.name as label, '/demand/orders/' || o.id as link, -(l.quantity - l.shipped) as quantity,
        null as job
      from sales_lines l
      join sales_orders o on o.id = l.order_id
      join customers c on c.id = o.customer_id
      where ${anyOf(sql`l.item_id`, itemIds)} and o.status = 'open' and l.shipped < l.quantity
      union all
      select
        'purchase:' || l.id, l.item_id, l.due_on, 'purchase order', o.number || ' ' || s.name, '/purchasing/' || o.id,
        l.quantity - l.received, null
      from purchase_lines l
      join purchase_orders o on o.id = l.order_id
      join suppliers s on s.id = o.supplier_id
      where ${anyOf(sql`l.item_id`, itemIds)} and o.status = 'open' and not l.closed_short and l.received < l.quantity
      union all
      select
        'build:' || b.id, b.item_id, b.due_on, 'build in', b.number, '/workshop/builds/' || b.id, b.quantity - b.made,
        'build:' || b.id
      from builds b
      where ${anyOf(sql`b.item_id`, itemIds)} and b.status in ('draft', 'ready', 'started') and b.made < b.quantity
      union all
      select
        'build-line:' || l.id, l.item_id, b.release_on, 'build out', b.number || ' ' || i.code,
        '/workshop/builds/' || b.id, -(l.need - l.covered), 'build:' || b.id
      from build_lines l
      join builds b on b.id = l.build_id
      join items i on i.id = b.item_id
      where ${anyOf(sql`l.item_id`, itemIds)} and b.status in ('draft', 'ready', 'started') and l.covered < l.need
      union all
      select
        'transfer:' || l.id, l.item_id, t.due_on, 'transfer', t.number || ' to ' || s.name,
        '/stock/transfers/' || t.id, l.shipped - l.received - l.lost, null
      from transfer_lines l
      join transfers t on t.id = l.transfer_id
      join sites s on s.id = t.to_site_id
      where ${anyOf(sql`l.item_id`, itemIds)} and t.status = 'open' and l.shipped > l.received + l.lost`,
  )
  const changes = found.map((row) => ({ ...row, quantity: ratio(row.quantity) }))
  return [...changes, ...(await breakDownChanges(reader, new Set(itemIds)))].sort(inOrder)
}

/** By day; what arrives on a day is there before what is wanted on it. */
const inOrder = (a: DatedRow, b: DatedRow): number =>
  a.day < b.day ? -1 : Number(a.day > b.day) || b.quantity.compare(a.quantity) || (a.id < b.id ? -1 : 1)

async function breakDownChanges(reader: Reader, items: ReadonlySet<number>): Promise<DatedRow[]> {
  const jobs = await rows<{ id: number; number: string; recipeId: number; times: string; dueOn: string }>(
    reader,
    sql`
      select id, number, recipe_id as "recipeId", times, due_on as "dueOn"
      from break_downs
      where status = 'planned'
        and (
          ${anyOf(sql`item_id`, [...items])}
          or exists (
            select from recipe_outputs o where o.recipe_id = break_downs.recipe_id and ${anyOf(sql`o.item_id`, [...items])}
          )
        )`,
  )
  if (jobs.length === 0) {
    return []
  }
  const recipes = await loadRecipes(reader)
  return jobs.flatMap((job): DatedRow[] => {
    const recipe = recipes.get(job.recipeId)
    if (!recipe) {
      return []
    }
    const times = ratio(job.times)
    const about = {
      day: job.dueOn,
      kind: 'break-down' as const,
      label: job.number,
      link: `/workshop/break-downs/${job.id}`,
      job: `break-down:${job.id}`,
    }
    const taken = { id: about.job, itemId: recipe.bulk.id, quantity: ZERO.sub(takeOf(recipe, times)), ...about }
    const given = givesOf(recipe, times).map(({ item, quantity }) => ({
      id: `${about.job}:${item.id}`,
      itemId: item.id,
      quantity,
      ...about,
    }))
    return [taken, ...given].filter((change) => items.has(change.itemId))
  })
}
