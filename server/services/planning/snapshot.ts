import { sql } from 'drizzle-orm'
import { toDay, toIso, makeCalendar, everyDay } from '~~/core/calendar'
import { periodOf, type Step } from '~~/core/forecasting'
import { groupBy } from '~~/core/group-by'
import { sortedPlaces } from '~~/core/sorted-places'
import {
  consumeForecast,
  shareOut,
  spreadForecast,
  type Demand,
  type DemandRule,
  type FixedOrder,
  type PlanInput,
  type Supply,
} from '~~/core/planning'
import { ratio, ZERO, type Ratio } from '~~/core/units'
import { columns, columnsWithTexts, rows, type Reader } from '~~/server/database/client'
import { ALL_OF_IT, type PlanScope } from '~~/shared/planning'
import { itemOf } from '~~/shared/node-id'
import { amongItems, soldBySite } from '../demand/history'
import { loadStructure } from '../structure/load-structure'
import { loadRecipes } from '../workshop/break-downs'
import { atSites, loadPlannedSites, type PlannedSites } from './planned-sites'
import { loadNodes, stepsOf } from './snapshot-nodes'

/** A planned order that somebody has fixed, as it is kept: its quantity in the stock unit. */
export interface KeptOrder {
  readonly id: number
  readonly itemId: number
  readonly siteId: number | null
  readonly fromSiteId: number | null
  readonly quantity: string
  readonly dueOn: string
  readonly releaseOn: string
  readonly supplierId?: number | null
}
export interface PlanSettings {
  readonly start: string
  readonly end: string
  readonly demandRule: DemandRule
  readonly forecastIds: readonly number[]
  readonly forecastFalls: 'first day' | 'spread'
  readonly scope?: PlanScope
  readonly fixed?: readonly KeptOrder[]
}

interface Around {
  readonly reader: Reader
  readonly steps: Steps
  readonly places: PlannedSites
  readonly scope: PlanScope
  readonly start: string
}
type Steps = (itemId: number, amount: string | Ratio) => number

/** Everything that the engine plans on, as it stands now: quantities in whole finest steps. Goods and lines allocated to each other are both left out. */
export async function takeSnapshot(reader: Reader, settings: PlanSettings): Promise<PlanInput> {
  const scope = settings.scope ?? ALL_OF_IT
  const structure = await loadStructure(reader, settings.start)
  const { items: items } = structure
  const calendars = await loadCalendars(reader)
  const places = await loadPlannedSites(reader, scope)
  const around: Around = {
    reader,
    places,
    scope,
    start: settings.start,
    steps: (itemId, amount) => stepsOf(items.get(itemId)!, typeof amount === 'string' ? ratio(amount) : amount),
  }
  const jobs = scope.builds ? await loadOpenJobs(around) : NOTHING
  const moving = scope.transfers ? await loadTransfers(around) : NOTHING
  const maker = await loadNodes(reader, structure, { start: settings.start, end: settings.end, scope, places })
  const heads = await loadHeads(around)
  // The database works on the lines of orders, by far the most there is to read, while the nodes are made.
  const [, lines] = await Promise.all([
    new Promise((resolve) => setImmediate(resolve)).then(() => maker.makeMain()),
    loadLines(reader),
  ])
  const orders = joinOrders(around, heads, lines, settings.forecastIds.length > 0)
  const forecast =
    settings.forecastIds.length === 0 ? [] : await loadForecastDemand(around, settings, calendars.own, orders.all)
  const demands = (settings.demandRule === 'forecast only' ? [] : orders.open).concat(
    forecast,
    jobs.demands,
    moving.demands,
  )
  const supplies = [...(scope.purchases ? await loadPurchases(around) : []), ...moving.supplies, ...jobs.supplies]
  const fixed = (settings.fixed ?? []).flatMap((entry): FixedOrder[] => {
    const node = places.nodeAt(entry.itemId, entry.siteId)
    return node === null || isWithin(places, entry)
      ? []
      : [
          {
            id: `fixed:${entry.id}`,
            node,
            quantity: around.steps(entry.itemId, entry.quantity),
            due: entry.dueOn,
            release: entry.releaseOn,
            ...(entry.supplierId == null ? {} : { supplier: String(entry.supplierId) }),
          },
        ]
  })
  const wanted = new Set<string>()
  for (const list of [demands, supplies, fixed]) {
    for (const { node } of list) {
      wanted.add(node)
    }
  }
  return {
    start: settings.start,
    end: settings.end,
    calendars: calendars.byId,
    nodes: maker.makeAll(wanted),
    demands,
    supplies,
    ...(fixed.length > 0 ? { fixed } : {}),
    ...(scope.pullIn ? {} : { pullIn: false }),
    ...(scope.keepSafety ? {} : { keepSafety: false }),
    ...(scope.longestLeadDays === null ? {} : { longestLeadDays: scope.longestLeadDays }),
  }
}

/** Where two sites share their stock, a move between them brings nothing. */
const isWithin = (places: PlannedSites, { itemId, siteId, fromSiteId }: KeptOrder): boolean =>
  fromSiteId !== null && places.nodeAt(itemId, fromSiteId) === places.nodeAt(itemId, siteId)

interface Jobs {
  readonly demands: readonly Demand[]
  readonly supplies: readonly Supply[]
}
const NOTHING: Jobs = { demands: [], supplies: [] }

async function loadCalendars(reader: Reader) {
  const found = await rows<{ id: number; weekdays: boolean[]; closed: string[] | null; own: boolean }>(
    reader,
    sql`
      select
        c.id, c.weekdays,
        (select json_agg(day order by day) from closed_days d where d.calendar_id = c.id) as closed,
        exists (select 1 from sites s where s.calendar_id = c.id) as own
      from calendars c
      order by c.id`,
  )
  const byId = Object.fromEntries(found.map((c) => [String(c.id), { weekdays: c.weekdays, closed: c.closed ?? [] }]))
  const own = found.find((c) => c.own)
  return {
    byId,
    ownId: own ? String(own.id) : null,
    own: own ? makeCalendar(own.weekdays, own.closed ?? []) : everyDay,
  }
}

interface Heads {
  readonly ids: readonly number[]
  readonly priorities: readonly number[]
  readonly siteIds: readonly number[]
  readonly days: readonly string[]
  readonly labels: readonly string[]
}

/** What the lines of a sales order share. */
async function loadHeads({ reader, scope }: Around): Promise<Heads> {
  const { numbers, texts } = await columnsWithTexts(
    reader,
    3,
    2,
    sql`
      select o.id, -o.priority, coalesce(o.site_id, c.site_id), o.due_on, o.number || ' ' || c.name
      from sales_orders o
      join customers c on c.id = o.customer_id
      where o.status = 'open'
        and ${atSites(
          sql` coalesce(o.site_id, c.site_id, (select min(id) from sites where not retired))`,
          scope.sites,
        )}`,
  )
  return { ids: numbers[0]!, priorities: numbers[1]!, siteIds: numbers[2]!, days: texts[0]!, labels: texts[1]! }
}

type Lines = readonly [
  ids: readonly number[],
  orders: readonly number[],
  itemIds: readonly number[],
  wholes: readonly number[],
  lineIds: readonly number[],
  aside: readonly number[],
]

/** What is open of every line of a sales order, and what is set aside for some. */
async function loadLines(reader: Reader): Promise<Lines> {
  const lines = await columns(
    reader,
    4,
    sql`
      select
        l.id, l.order_id, l.item_id,
        case
          when i.finest_step = 1 then l.quantity - l.shipped
          else ceil((l.quantity - l.shipped) / i.finest_step)
        end
      from sales_lines l
      join sales_orders o on o.id = l.order_id and o.status = 'open'
      join items i on i.id = l.item_id and i.kind = 'stocked'
      where l.shipped < l.quantity`,
  )
  const aside = await columns(
    reader,
    2,
    sql`
      select l.id, ceil(sum(a.quantity) / min(i.finest_step))
      from allocations a
      join sales_lines l on l.id = a.sales_line_id
      join items i on i.id = l.item_id
      group by l.id`,
  )
  return [...lines, ...aside] as unknown as Lines
}

/** Lines of sales orders, and all of them whole where a forecast is used up by them, those of an item together: a million of them come as columns, with what they share read once an order. */
function joinOrders(
  { places }: Around,
  heads: Heads,
  [ids, orders, itemIds, wholes, lineIds, aside]: Lines,
  forForecast: boolean,
): { open: Demand[]; all: { node: string; day: string; quantity: number }[] } {
  const { siteIds, days, labels, priorities } = heads
  const headOf = new Map(heads.ids.map((id, index) => [id, index]))
  const set = new Map(lineIds.map((id, index) => [id, aside[index]!]))
  const open: Demand[] = []
  const all: { node: string; day: string; quantity: number }[] = []
  let last = -1
  // Of one item the text of each node is one, so that what follows looks it up once.
  const nodes = new Map<number | null, string | null>()
  for (const place of sortedPlaces(itemIds)) {
    const head = headOf.get(orders[place]!)
    if (head === undefined) {
      continue
    }
    const itemId = itemIds[place]!
    if (itemId !== last) {
      nodes.clear()
      last = itemId
    }
    const site = Number.isNaN(siteIds[head]) ? null : siteIds[head]!
    let node = nodes.get(site)
    if (node === undefined) {
      node = places.nodeAt(itemId, site)
      nodes.set(site, node)
    }
    if (node === null) {
      continue
    }
    const whole = Math.ceil(wholes[place]!)
    const quantity = set.size > 0 ? whole - (set.get(ids[place]!) ?? 0) : whole
    const day = days[head]!
    if (forForecast) {
      all.push({ node, day, quantity: whole })
    }
    if (quantity > 0) {
      open.push({
        id: `sales:${ids[place]}`,
        node,
        day,
        quantity,
        kind: 'sales order',
        label: labels[head]!,
        priority: priorities[head]!,
      })
    }
  }
  return { open, all }
}

/**
 * What forecasts say beside the orders. Of a period that has begun, what falls on its working days from the start on counts.
 *
 * A forecast is of an item. It is wanted at the sites that sold the item over the last year, by what each sold; at the main one where none did.
 */
async function loadForecastDemand(
  { reader, steps, places, scope }: Around,
  settings: PlanSettings,
  calendar: ReturnType<typeof makeCalendar>,
  orders: readonly { node: string; day: string; quantity: number }[],
): Promise<Demand[]> {
  const cells = await rows<{
    forecastId: number
    itemId: number
    startsOn: string
    step: Step
    quantity: string
    name: string
  }>(
    reader,
    sql`
      select f.id as "forecastId", c.item_id as "itemId", c.starts_on as "startsOn", f.step, c.quantity, f.name
      from forecast_cells c
      join forecasts f on f.id = c.forecast_id
      join items i on i.id = c.item_id and i.kind = 'stocked'
      where ${amongItems(sql`f.id`, settings.forecastIds)} and c.quantity > 0
      order by c.item_id, c.starts_on, f.id`,
  )
  const ordered = groupBy(orders, (order) => itemOf(order.node))
  const shares = groupBy(
    places.areas.several ? await soldBySite(reader, toIso(toDay(settings.start) - 365), settings.start) : [],
    (sale) => sale.itemId,
  )
  const [start, end] = [toDay(settings.start), toDay(settings.end)]
  return [...groupBy(cells, (cell) => cell.itemId)].flatMap(([itemId, own]) => {
    const sold = new Map<string, number>()
    for (const { siteId, quantity } of shares.get(itemId) ?? []) {
      const node = places.nodeAt(itemId, siteId)
      if (node !== null) {
        sold.set(node, (sold.get(node) ?? 0) + Math.round(steps(itemId, quantity)))
      }
    }
    const nodes = sold.size > 0 ? [...sold.keys()] : [places.inArea(itemId, places.areas.main)]
    const periods = own
      .map((cell) => {
        const { first, last } = periodOf(cell.startsOn, cell.step)
        return {
          first: toDay(first),
          last: toDay(last),
          cell,
          parts: shareOut(steps(itemId, cell.quantity), sold.size > 0 ? [...sold.values()] : [1]),
        }
      })
      .filter((p) => p.last >= start && p.first <= end)
    // What is ordered where it was never sold uses up the forecast of the site that sold most.
    const most = nodes.reduce((best, node) => ((sold.get(node) ?? 0) > (sold.get(best) ?? 0) ? node : best))
    const asked = groupBy(ordered.get(itemId) ?? [], (order) => (nodes.includes(order.node) ? order.node : most))
    return nodes.flatMap((node, position) => {
      const begun = periods.map(({ first, last, cell, parts }) => ({
        first: Math.max(first, start),
        last,
        cell,
        quantity:
          first >= start
            ? parts[position]!
            : spreadForecast(parts[position]!, first, last, calendar).reduce(
                (sum, part) => (part.day >= start ? sum + part.quantity : sum),
                0,
              ),
      }))
      const left = consumeForecast(
        begun,
        (asked.get(node) ?? []).map((o) => ({ day: toDay(o.day), quantity: o.quantity })),
        settings.demandRule,
        scope.backDays,
        scope.aheadDays,
      )
      return left.flatMap((period, index) =>
        spreadForecast(
          period.quantity,
          period.first,
          settings.forecastFalls === 'spread' ? period.last : period.first,
          calendar,
        ).map((part): Demand => ({
          id: `forecast:${begun[index]!.cell.forecastId}:${node}:${begun[index]!.cell.startsOn}:${toIso(part.day)}`,
          node,
          day: toIso(part.day),
          quantity: part.quantity,
          kind: 'forecast',
          label: `Forecast “${begun[index]!.cell.name}”`,
          priority: 1,
        })),
      )
    })
  })
}

async function loadPurchases({ reader, steps, places }: Around): Promise<Supply[]> {
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
            id: `purchase:${l.id}`,
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
async function loadTransfers({ reader, steps, places, start }: Around): Promise<Jobs> {
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
        id: `transfer:${line.id}`,
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
        id: `transfer:${line.id}`,
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

async function loadOpenJobs({ reader, steps, places }: Around): Promise<Jobs> {
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
        id: `build:${build.id}`,
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
        id: `build:${line.buildId}:${itemOf(node)}`,
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
