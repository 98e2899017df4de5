import { sql } from 'drizzle-orm'
import { toDay, toIso, makeCalendar, everyDay } from '~~/core/calendar'
import { periodOf, type Step } from '~~/core/forecasting'
import { groupBy } from '~~/core/group-by'
import { consumeForecast, spreadForecast, type Demand, type DemandRule, type PlanInput, type Supply } from '~~/core/planning'
import { ratio, ZERO, type Ratio } from '~~/core/units'
import { rows, type Reader } from '~~/server/database/client'
import { ALL_OF_IT, type PlanScope } from '~~/shared/planning'
import { amongItems } from '../demand/history'
import { loadStructure, type LoadedStructure } from '../structure/load-structure'
import { loadRecipes } from '../workshop/break-downs'
import { atSites, loadNodes, stepsOf } from './snapshot-nodes'

export { stepsOf }

export interface PlanSettings { readonly start: string, readonly end: string, readonly demandRule: DemandRule, readonly forecastIds: readonly number[], readonly forecastFalls: 'first day' | 'spread', readonly scope?: PlanScope }

/** Everything that the engine plans on, as it stands now: quantities in whole finest steps. Goods and lines allocated to each other are both left out. */
export async function takeSnapshot(reader: Reader, settings: PlanSettings): Promise<PlanInput> {
  const scope = settings.scope ?? ALL_OF_IT
  const structure = await loadStructure(reader, settings.start)
  const { frames } = structure
  const calendars = await loadCalendars(reader)
  const steps = (itemId: number, amount: string | Ratio): number => stepsOf(frames.get(itemId)!, typeof amount === 'string' ? ratio(amount) : amount)
  const jobs = scope.builds ? await loadOpenJobs(reader, structure, steps, scope) : { demands: [], supplies: [] }
  const orders = await loadOrders(reader, steps, scope)
  const forecast = settings.forecastIds.length === 0 ? [] : await loadForecastDemand(reader, settings, calendars.own, orders.all, steps)
  return {
    start: settings.start, end: settings.end, calendars: calendars.byId, nodes: await loadNodes(reader, structure, { start: settings.start, end: settings.end, scope, calendar: calendars.ownId }),
    demands: [...settings.demandRule === 'forecast only' ? [] : orders.open, ...forecast, ...jobs.demands],
    supplies: [...scope.purchases ? await loadPurchases(reader, steps, scope) : [], ...scope.transfers ? await loadTransfers(reader, steps, settings.start, scope) : [], ...jobs.supplies],
    ...scope.pullIn ? {} : { pullIn: false }, ...scope.keepSafety ? {} : { keepSafety: false }, ...scope.longestLeadDays === null ? {} : { longestLeadDays: scope.longestLeadDays },
  }
}

async function loadCalendars(reader: Reader) {
  const found = await rows<{ id: number, weekdays: boolean[], closed: string[] | null, own: boolean }>(reader, sql`
    select c.id, c.weekdays, (select json_agg(day order by day) from closed_days d where d.calendar_id = c.id) as closed, exists (select 1 from sites s where s.calendar_id = c.id) as own from calendars c order by c.id`)
  const byId = Object.fromEntries(found.map(c => [String(c.id), { weekdays: c.weekdays, closed: c.closed ?? [] }]))
  const own = found.find(c => c.own)
  return { byId, ownId: own ? String(own.id) : null, own: own ? makeCalendar(own.weekdays, own.closed ?? []) : everyDay }
}

type Steps = (itemId: number, amount: string | Ratio) => number

async function loadOrders(reader: Reader, steps: Steps, { sites }: PlanScope): Promise<{ open: Demand[], all: { itemId: number, day: string, quantity: number }[] }> {
  const found = await rows<{ id: number, itemId: number, dueOn: string, number: string, customer: string, open: string, whole: string, priority: number }>(reader, sql`
    select l.id, l.item_id as "itemId", o.due_on as "dueOn", o.number, o.priority, c.name as customer, l.quantity - l.shipped as whole,
      l.quantity - l.shipped - coalesce((select sum(a.quantity) from allocations a where a.sales_line_id = l.id), 0) as open
    from sales_lines l join sales_orders o on o.id = l.order_id join customers c on c.id = o.customer_id where o.status = 'open' and l.shipped < l.quantity and l.item_id in (select id from items where kind = 'stocked') and ${atSites(sql`coalesce(o.site_id, c.site_id, (select min(id) from sites where not retired))`, sites)} order by o.due_on, l.id`)
  const open = found.map((l): Demand => ({ id: `sales:${l.id}`, node: String(l.itemId), day: l.dueOn, quantity: steps(l.itemId, l.open), kind: 'sales order', label: `${l.number} ${l.customer}`, priority: -l.priority }))
  return { open: open.filter(d => d.quantity > 0), all: found.map(l => ({ itemId: l.itemId, day: l.dueOn, quantity: steps(l.itemId, l.whole) })) }
}

/** What forecasts say beside the orders. Of a period that has begun, what falls on its working days from the start on counts. */
async function loadForecastDemand(reader: Reader, settings: PlanSettings, calendar: ReturnType<typeof makeCalendar>, orders: readonly { itemId: number, day: string, quantity: number }[], steps: Steps): Promise<Demand[]> {
  const cells = await rows<{ forecastId: number, itemId: number, startsOn: string, step: Step, quantity: string, name: string }>(reader, sql`
    select f.id as "forecastId", c.item_id as "itemId", c.starts_on as "startsOn", f.step, c.quantity, f.name from forecast_cells c join forecasts f on f.id = c.forecast_id join items i on i.id = c.item_id and i.kind = 'stocked'
    where ${amongItems(sql`f.id`, settings.forecastIds)} and c.quantity > 0 order by c.item_id, c.starts_on, f.id`)
  const ordered = groupBy(orders, order => order.itemId)
  const [start, end] = [toDay(settings.start), toDay(settings.end)]
  return [...groupBy(cells, cell => cell.itemId)].flatMap(([itemId, own]) => {
    const periods = own.map((cell) => {
      const { first, last } = periodOf(cell.startsOn, cell.step)
      const whole = { first: toDay(first), last: toDay(last), quantity: steps(itemId, cell.quantity), cell }
      if (whole.first >= start) return whole
      return { ...whole, first: start, quantity: spreadForecast(whole.quantity, whole.first, whole.last, calendar).reduce((sum, part) => part.day >= start ? sum + part.quantity : sum, 0) }
    }).filter(p => p.last >= start && p.first <= end)
    const left = consumeForecast(periods, (ordered.get(itemId) ?? []).map(o => ({ day: toDay(o.day), quantity: o.quantity })), settings.demandRule, settings.scope?.backDays ?? 0, settings.scope?.aheadDays ?? 0)
    return left.flatMap((period, at) => spreadForecast(period.quantity, period.first, settings.forecastFalls === 'spread' ? period.last : period.first, calendar)
      .map((part): Demand => ({ id: `forecast:${periods[at]!.cell.forecastId}:${itemId}:${periods[at]!.cell.startsOn}:${toIso(part.day)}`, node: String(itemId), day: toIso(part.day), quantity: part.quantity, kind: 'forecast', label: `Forecast “${periods[at]!.cell.name}”`, priority: 1 })))
  })
}

async function loadPurchases(reader: Reader, steps: Steps, { sites }: PlanScope): Promise<Supply[]> {
  const found = await rows<{ id: number, itemId: number, dueOn: string, number: string, open: string }>(reader, sql`
    select l.id, l.item_id as "itemId", l.due_on as "dueOn", o.number, l.quantity - l.received as open from purchase_lines l join purchase_orders o on o.id = l.order_id
    where o.status = 'open' and not l.closed_short and l.received < l.quantity and l.item_id in (select id from items where kind = 'stocked') and ${atSites(sql`(select min(id) from sites where not retired)`, sites)} order by l.due_on, l.id`)
  return found.map(l => ({ id: `purchase:${l.id}`, node: String(l.itemId), day: l.dueOn, quantity: steps(l.itemId, l.open), kind: 'purchase order', label: l.number }))
}

/** Goods on their way between sites: they are there on the day that their transfer is due, or now where that is past. */
async function loadTransfers(reader: Reader, steps: Steps, start: string, { sites }: PlanScope): Promise<Supply[]> {
  const found = await rows<{ id: number, itemId: number, dueOn: string, number: string, way: string }>(reader, sql`
    select l.id, l.item_id as "itemId", greatest(t.due_on, ${start}::date) as "dueOn", t.number, l.shipped - l.received - l.lost as way from transfer_lines l join transfers t on t.id = l.transfer_id where t.status = 'open' and l.shipped > l.received + l.lost and ${atSites(sql`t.to_site_id`, sites)} order by 3, l.id`)
  return found.map(l => ({ id: `transfer:${l.id}`, node: String(l.itemId), day: l.dueOn, quantity: steps(l.itemId, l.way), kind: 'transfer', label: l.number }))
}

async function loadOpenJobs(reader: Reader, { frames }: LoadedStructure, steps: Steps, { sites }: PlanScope): Promise<{ demands: Demand[], supplies: Supply[] }> {
  const demands: Demand[] = []
  const supplies: Supply[] = []
  const builds = await rows<{ id: number, number: string, itemId: number, left: string, dueOn: string }>(reader, sql`
    select id, number, item_id as "itemId", greatest(quantity - made, 0) as left, due_on as "dueOn" from builds where status in ('draft', 'ready', 'started') and ${atSites(sql`site_id`, sites)} order by id`)
  for (const build of builds) if (ratio(build.left).compare(ZERO) > 0) supplies.push({ id: `build:${build.id}`, node: String(build.itemId), day: build.dueOn, quantity: steps(build.itemId, build.left), kind: 'build', label: build.number })
  // What a build still takes, less what is set aside for it: that is not counted as on hand either.
  const lines = await rows<{ buildId: number, number: string, code: string, itemId: number, releaseOn: string, open: string }>(reader, sql`
    select b.id as "buildId", b.number, i.code, l.item_id as "itemId", b.release_on as "releaseOn", l.need - l.covered - coalesce((select sum(a.quantity) from allocations a where a.build_line_id = l.id), 0) as open
    from build_lines l join builds b on b.id = l.build_id join items i on i.id = b.item_id where b.status in ('draft', 'ready', 'started') and ${atSites(sql`b.site_id`, sites)} order by b.id, l.position`)
  for (const line of lines) if (ratio(line.open).compare(ZERO) > 0) demands.push({ id: `build:${line.buildId}:${line.itemId}`, node: String(line.itemId), day: line.releaseOn, quantity: stepsOf(frames.get(line.itemId)!, ratio(line.open)), kind: 'build', label: `${line.number} ${line.code}`, priority: 0 })
  const recipes = await loadRecipes(reader)
  const breakDowns = await rows<{ id: number, number: string, itemId: number, recipeId: number, times: string, dueOn: string }>(reader, sql`select id, number, item_id as "itemId", recipe_id as "recipeId", times, due_on as "dueOn" from break_downs where status = 'planned' order by id`)
  for (const job of breakDowns) {
    const recipe = recipes.get(job.recipeId)
    if (!recipe) continue
    demands.push({ id: `break-down:${job.id}`, node: String(job.itemId), day: job.dueOn, quantity: steps(job.itemId, recipe.take.mul(ratio(job.times))), kind: 'break-down', label: job.number, priority: 0 })
    for (const output of recipe.outputs) supplies.push({ id: `break-down:${job.id}:${output.frame.id}`, node: String(output.frame.id), day: job.dueOn, quantity: steps(output.frame.id, output.quantity.mul(ratio(job.times))), kind: 'break-down', label: job.number })
  }
  return { demands, supplies }
}
