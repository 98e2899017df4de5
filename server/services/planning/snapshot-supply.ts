import { sql } from 'drizzle-orm'
import { type Demand, type Supply } from '~~/core/planning/input'
import { ratio, ZERO } from '~~/core/units/exact'
import { rows } from '~~/server/database/client'
import { itemOf } from '~~/shared/planning/node-id'
import { loadRecipes } from '../workshop/break-downs'
import type { Around } from './snapshot'
import { supplyId } from './supply-ids'

interface Jobs {
  readonly demands: readonly Demand[]
  readonly supplies: readonly Supply[]
}

export const NOTHING: Jobs = { demands: [], supplies: [] }

export async function loadPurchases({ reader, steps, places }: Around): Promise<Supply[]> {
  const found = await rows<{
    id: number
    itemId: number
    siteId: number | null
    dueOn: string
    number: string
    open: string
  }>(
    reader,
    sql`
      select
        l.id, l.item_id as "itemId", o.site_id as "siteId", l.due_on as "dueOn", o.number,
        l.quantity - l.received as open
      from purchase_lines l
      join purchase_orders o on o.id = l.order_id
      where o.status = 'open'
        and not l.closed_short
        and l.received < l.quantity
        and l.item_id in (select id from items where kind = 'stocked')
      order by l.due_on, l.id`,
  )
  return found.flatMap((l): Supply[] => {
    const node = places.nodeAt(l.itemId, l.siteId)
    return node === null
      ? []
      : [
          {
            id: supplyId('purchase', l.id),
            node,
            day: l.dueOn,
            quantity: steps(l.itemId, l.open),
            kind: 'purchase order',
            label: l.number,
          },
        ]
  })
}

/** What is still to leave a site leaves it on its day; what leaves and what is on its way is there on the day that the transfer is due, or now where that is past. */
export async function loadTransfers({ reader, steps, places, start }: Around): Promise<Jobs> {
  const found = await rows<{
    id: number
    itemId: number
    from: number
    to: number
    leavesOn: string
    dueOn: string
    number: string
    source: string
    left: string
  }>(
    reader,
    sql`
      select
        l.id, l.item_id as "itemId", t.from_site_id as "from", t.to_site_id as "to", t.leaves_on as "leavesOn",
        greatest(t.due_on, ${start}::date) as "dueOn", t.number, l.shipped - l.received - l.lost as source,
        case when l.closed_short then 0 else l.quantity - l.shipped end as left
      from transfer_lines l
      join transfers t on t.id = l.transfer_id
      where t.status = 'open'
        and (l.shipped > l.received + l.lost or (not l.closed_short and l.quantity > l.shipped))
      order by 6, l.id`,
  )
  const demands: Demand[] = []
  const supplies: Supply[] = []
  for (const line of found) {
    const [from, to] = [places.nodeAt(line.itemId, line.from), places.nodeAt(line.itemId, line.to)]
    // Between sites that share their stock, what has not left is still there.
    const leaves = from === to ? 0 : steps(line.itemId, line.left)
    const comes = steps(line.itemId, line.source) + leaves
    if (from !== null && leaves > 0) {
      demands.push({
        id: supplyId('transfer', line.id),
        node: from,
        day: line.leavesOn,
        quantity: leaves,
        kind: 'transfer',
        label: line.number,
        priority: 0,
      })
    }
    if (to !== null && comes > 0) {
      supplies.push({
        id: supplyId('transfer', line.id),
        node: to,
        day: line.dueOn,
        quantity: comes,
        kind: 'transfer',
        label: line.number,
      })
    }
  }
  return { demands, supplies }
}

export async function loadOpenJobs({ reader, steps, places }: Around): Promise<Jobs> {
  const demands: Demand[] = []
  const supplies: Supply[] = []
  const builds = await rows<{
    id: number
    number: string
    itemId: number
    siteId: number
    left: string
    dueOn: string
  }>(
    reader,
    sql`
      select
        id, number, item_id as "itemId", site_id as "siteId", greatest(quantity - made, 0) as left,
        due_on as "dueOn"
      from builds
      where status in ('draft', 'ready', 'started')
      order by id`,
  )
  for (const build of builds) {
    const node = places.nodeAt(build.itemId, build.siteId)
    if (node !== null && ratio(build.left).compare(ZERO) > 0) {
      supplies.push({
        id: supplyId('build', build.id),
        node,
        day: build.dueOn,
        quantity: steps(build.itemId, build.left),
        kind: 'build',
        label: build.number,
      })
    }
  }
  // What a build still takes, less what is set aside for it: that is not counted as on hand either.
  const lines = await rows<{
    buildId: number
    number: string
    code: string
    itemId: number
    siteId: number
    releaseOn: string
    open: string
  }>(
    reader,
    sql`
      select
        b.id as "buildId", b.number, i.code, l.item_id as "itemId", b.site_id as "siteId",
        b.release_on as "releaseOn",
        l.need - l.covered - coalesce(
          (select sum(a.quantity) from allocations a where a.build_line_id = l.id), 0
        ) as open
      from build_lines l
      join builds b on b.id = l.build_id
      join items i on i.id = b.item_id
      where b.status in ('draft', 'ready', 'started')
      order by b.id, l.position`,
  )
  for (const line of lines) {
    const node = places.nodeAt(line.itemId, line.siteId)
    if (node !== null && ratio(line.open).compare(ZERO) > 0) {
      demands.push({
        id: supplyId('build', line.buildId, itemOf(node)),
        node,
        day: line.releaseOn,
        quantity: steps(line.itemId, line.open),
        kind: 'build',
        label: `${line.number} ${line.code}`,
        priority: 0,
      })
    }
  }
  const recipes = await loadRecipes(reader)
  const breakDowns = await rows<{
    id: number
    number: string
    itemId: number
    siteId: number
    recipeId: number
    times: string
    dueOn: string
  }>(
    reader,
    sql`
      select
        id, number, item_id as "itemId", site_id as "siteId", recipe_id as "recipeId", times, due_on as "dueOn"
      from break_downs
      where status = 'planned'
      order by id`,
  )
  for (const job of breakDowns) {
    const recipe = recipes.get(job.recipeId)
    const bulk = places.nodeAt(job.itemId, job.siteId)
    if (!recipe || bulk === null) {
      continue
    }
    demands.push({
      id: `break-down:${job.id}`,
      node: bulk,
      day: job.dueOn,
      quantity: steps(job.itemId, recipe.take.mul(ratio(job.times))),
      kind: 'break-down',
      label: job.number,
      priority: 0,
    })
    for (const output of recipe.outputs) {
      supplies.push({
        id: `break-down:${job.id}:${output.item.id}`,
        node: places.nodeAt(output.item.id, job.siteId)!,
        day: job.dueOn,
        quantity: steps(output.item.id, output.quantity.mul(ratio(job.times))),
        kind: 'break-down',
        label: job.number,
      })
    }
  }
  return { demands, supplies }
}
