import { sql } from 'drizzle-orm'
import type { Demand, Supply } from '~~/core/planning/input'
import { ratio, ZERO } from '~~/core/units/exact'
import { rows } from '~~/server/database/client'
import { itemOf } from '~~/shared/planning/node-id'
import { loadRecipes } from '../workshop/break-downs'
import type { Around } from './snapshot'
import { breakDownId, supplyId } from './supply-ids'

interface Jobs {
  readonly demands: readonly Demand[]
  readonly supplies: readonly Supply[]
}

export const NOTHING: Jobs = { demands: [], supplies: [] }

/**
 * What is open of purchase orders: on its due day, and not before the lead time since it was ordered. What goes to a
 * customer by itself meets their order where that is filled from.
 */
export async function loadPurchases({ reader, steps, places, scope, arrives }: Around): Promise<Supply[]> {
  const found = await rows<{
    id: number
    itemId: number
    siteId: number | null
    dueOn: string
    orderedOn: string
    leadDays: number | null
    calendarId: number | null
    number: string
    open: string
  }>(
    reader,
    sql`
      select
        l.id, l.item_id as "itemId",
        case when b.id is null then o.site_id else coalesce(b.site_id, c.site_id) end as "siteId",
        l.due_on as "dueOn", o.ordered_on as "orderedOn",
        t.lead_days as "leadDays", s.calendar_id as "calendarId", o.number, l.quantity - l.received as open
      from purchase_lines l
      join purchase_orders o on o.id = l.order_id
      join suppliers s on s.id = o.supplier_id
      left join sales_orders b on b.id = o.direct_order_id
      left join customers c on c.id = b.customer_id
      left join supplier_terms t on t.supplier_id = o.supplier_id and t.item_id = l.item_id
      where o.status = 'open'
        and not l.closed_short
        and l.received < l.quantity
        and l.item_id in (select id from items where kind = 'stocked')
      order by l.due_on, l.id`,
  )
  return found.flatMap((l): Supply[] => {
    const node = places.nodeAt(l.itemId, l.siteId)
    const calendar = scope.buyingHeedsCalendar ? String(l.calendarId ?? places.companyCalendar) : null
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
            ...(l.leadDays === null ? {} : { earliest: arrives(calendar, l.orderedOn, l.leadDays) }),
          },
        ]
  })
}

/**
 * What is still to leave a site leaves it on its day; what leaves and what is on its way is there on the day that the
 * transfer is due, or now where that is past. What has not left can leave today at the soonest; what is on its way
 * comes when it is due.
 */
export async function loadTransfers(around: Around): Promise<Jobs> {
  const { reader, steps, places, start, arrives } = around
  const found = await rows<{
    id: number
    itemId: number
    from: number
    to: number
    leavesOn: string
    dueOn: string
    number: string
    onTheWay: string
    left: string
    days: number
  }>(
    reader,
    sql`
      select
        l.id, l.item_id as "itemId", t.from_site_id as "from", t.to_site_id as "to", t.leaves_on as "leavesOn",
        greatest(t.due_on, ${start}::date) as "dueOn", t.number, l.shipped - l.received - l.lost as "onTheWay",
        case when l.closed_short then 0 else l.quantity - l.shipped end as left, coalesce(r.days, i.lead_days) as days
      from transfer_lines l
      join transfers t on t.id = l.transfer_id
      join items i on i.id = l.item_id
      left join routes r on r.from_site_id = t.from_site_id and r.to_site_id = t.to_site_id and not r.retired
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
    const comes = steps(line.itemId, line.onTheWay) + leaves
    const hasLeft = ratio(line.onTheWay).compare(ZERO) > 0
    if (from !== null && leaves > 0) {
      demands.push({
        id: supplyId('transfer', line.id),
        node: from,
        day: line.leavesOn,
        quantity: leaves,
        kind: 'transfer',
        label: line.number,
        priority: 0,
        for: [supplyId('transfer', line.id)],
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
        earliest: hasLeft ? line.dueOn : arrives(makingCalendar(around, line.from), start, line.days),
      })
    }
  }
  return { demands, supplies }
}

/** By which calendar a site makes and sends. */
const makingCalendar = ({ places, scope }: Around, siteId: number): string | null =>
  scope.makingHeedsCalendar ? places.calendarOf(siteId) : null

/** Open builds and break-downs, with what they still take. One that is not begun yet can begin today at the soonest. */
export async function loadOpenJobs(around: Around): Promise<Jobs> {
  const { reader, steps, places, start, arrives, leadDaysOf } = around
  const demands: Demand[] = []
  const supplies: Supply[] = []
  const builds = await rows<{
    id: number
    number: string
    itemId: number
    siteId: number
    left: string
    dueOn: string
    startedOn: string | null
  }>(
    reader,
    sql`
      select
        id, number, item_id as "itemId", site_id as "siteId", greatest(quantity - made, 0) as left,
        due_on as "dueOn", case when status = 'started' then started_on end as "startedOn"
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
        earliest: arrives(makingCalendar(around, build.siteId), build.startedOn ?? start, leadDaysOf(build.itemId)),
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
        for: [supplyId('build', line.buildId)],
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
      id: breakDownId(job.id),
      node: bulk,
      day: job.dueOn,
      quantity: steps(job.itemId, recipe.take.mul(ratio(job.times))),
      kind: 'break-down',
      label: job.number,
      priority: 0,
      for: recipe.outputs.map((output) => breakDownId(job.id, output.item.id)),
    })
    for (const output of recipe.outputs) {
      supplies.push({
        id: breakDownId(job.id, output.item.id),
        node: places.nodeAt(output.item.id, job.siteId)!,
        day: job.dueOn,
        quantity: steps(output.item.id, output.quantity.mul(ratio(job.times))),
        kind: 'break-down',
        label: job.number,
        earliest: arrives(makingCalendar(around, job.siteId), start, leadDaysOf(output.item.id)),
      })
    }
  }
  return { demands, supplies }
}
