import { sql } from 'drizzle-orm'
import { toDay, toIso, makeCalendar, everyDay } from '~~/core/calendar'
import { periodOf, type Step } from '~~/core/forecasting'
import { groupBy } from '~~/core/group-by'
import { consumeForecast, spreadForecast, type Component, type Demand, type DemandRule, type PlanInput, type PlanNode, type Source, type Supply } from '~~/core/planning'
import { marksOn } from '~~/core/stock'
import { needOf } from '~~/core/structure'
import { convert, ONE, parts, ratio, toSteps, upwards, ZERO, type Ratio } from '~~/core/units'
import { rows, type Reader } from '~~/server/database/client'
import { itemMarks } from '~~/server/database/schema'
import type { Frame } from '../catalogue/frames'
import { amongItems } from '../demand/history'
import { loadStructure, type LoadedStructure } from '../structure/load-structure'
import { loadRecipes } from '../workshop/break-downs'

export interface PlanSettings { readonly start: string, readonly end: string, readonly demandRule: DemandRule, readonly forecastIds: readonly number[], readonly forecastFalls: 'first day' | 'spread' }

/** Everything that the engine plans on, as it stands now: quantities in whole finest steps. Goods and lines allocated to each other are both left out. */
export async function takeSnapshot(reader: Reader, settings: PlanSettings): Promise<PlanInput> {
  const structure = await loadStructure(reader, settings.start)
  const { frames } = structure
  const calendars = await loadCalendars(reader)
  const steps = (itemId: number, amount: string | Ratio): number => stepsOf(frames.get(itemId)!, typeof amount === 'string' ? ratio(amount) : amount)
  const jobs = await loadOpenJobs(reader, structure, steps)
  const orders = await loadOrders(reader, steps)
  const forecast = settings.forecastIds.length === 0 ? [] : await loadForecastDemand(reader, settings, calendars.own, orders.all, steps)
  return {
    start: settings.start, end: settings.end, calendars: calendars.byId, nodes: await loadNodes(reader, structure, calendars.ownId, settings.start),
    demands: [...settings.demandRule === 'forecast only' ? [] : orders.open, ...forecast, ...jobs.demands],
    supplies: [...await loadPurchases(reader, steps), ...await loadTransfers(reader, steps, settings.start), ...jobs.supplies],
  }
}

/** Whole finest steps of an amount in the stock unit; what is stored lies on a step already. */
export const stepsOf = (frame: Frame, amount: Ratio): number => Number(toSteps(amount, frame.measure.finestStep, 'required').steps)

async function loadCalendars(reader: Reader) {
  const found = await rows<{ id: number, weekdays: boolean[], closed: string[] | null, own: boolean }>(reader, sql`
    select c.id, c.weekdays, (select json_agg(day order by day) from closed_days d where d.calendar_id = c.id) as closed, exists (select 1 from sites s where s.calendar_id = c.id) as own from calendars c order by c.id`)
  const byId = Object.fromEntries(found.map(c => [String(c.id), { weekdays: c.weekdays, closed: c.closed ?? [] }]))
  const own = found.find(c => c.own)
  return { byId, ownId: own ? String(own.id) : null, own: own ? makeCalendar(own.weekdays, own.closed ?? []) : everyDay }
}

async function loadNodes(reader: Reader, structure: LoadedStructure, ownCalendar: string | null, start: string): Promise<PlanNode[]> {
  const { frames, boms } = structure
  const stock = groupBy(await rows<{ itemId: number, lot: string | null, expiresOn: string | null, quantity: string }>(reader, sql`
    select b.item_id as "itemId", l.number as lot, l.expires_on as "expiresOn", sum(b.on_hand - b.allocated) as quantity from balances b join places p on p.id = b.place_id left join lots l on l.id = b.lot_id
    where b.status = 'available' and not p.closed_to_picking and b.on_hand > b.allocated group by 1, 2, 3 order by 1, 2`), b => b.itemId)
  const terms = new Map((await rows<{ itemId: number, supplierId: number, calendarId: number | null, unit: string, minimum: string, multiple: string, leadDays: number }>(reader, sql`
    select distinct on (t.item_id) t.item_id as "itemId", t.supplier_id as "supplierId", s.calendar_id as "calendarId", t.unit, t.minimum, t.multiple, t.lead_days as "leadDays" from supplier_terms t join suppliers s on s.id = t.supplier_id order by t.item_id, t.rank`)).map(t => [t.itemId, t]))
  const recipes = [...(await loadRecipes(reader)).values()]
  const lines = groupBy(structure.lines, line => Number(line.parent))
  const unbound = new Set(structure.unbound.map(u => u.itemId))

  // The marks of the plan's first day count for all of it.
  const rules = groupBy(await reader.select().from(itemMarks), rule => rule.itemId)
  const [site] = await rows<{ id: number }>(reader, sql`select id from sites order by id limit 1`)
  const safety = (frame: Frame): string => marksOn({ safetyStock: frame.safetyStock, reorderPoint: null, targetStock: null, maximumStock: null }, rules.get(frame.id) ?? [], site?.id ?? 0, start).safetyStock ?? '0'

  const sourceOf = (frame: Frame): Source => {
    if (frame.status !== 'active') return { kind: 'none', reason: 'retired' }
    if (frame.source === 'made' || frame.source === 'kit') {
      if (unbound.has(frame.id)) return { kind: 'none', reason: 'no conversion' }
      if (!boms.has(frame.id)) return { kind: 'none', reason: 'no BOM' }
      return { kind: 'make', structure: String(boms.get(frame.id)!.id), components: componentsOf(frame, lines.get(frame.id) ?? [], frames), leadDays: frame.leadDays, calendar: ownCalendar }
    }
    if (frame.source === 'broken down') {
      const recipe = recipes.find(r => r.outputs.some(o => o.frame.id === frame.id))
      if (!recipe) return { kind: 'none', reason: 'no source' }
      const outputs = recipe.outputs.map(o => ({ node: String(o.frame.id), quantity: Number(toSteps(o.quantity, o.frame.measure.finestStep, 'recorded').steps) }))
      return { kind: 'break down', recipe: String(recipe.id), from: String(recipe.bulk.id), take: stepsOf(recipe.bulk, recipe.take), outputs, leadDays: frame.leadDays, calendar: ownCalendar }
    }
    const term = terms.get(frame.id)
    if (!term) return { kind: 'none', reason: 'no source' }
    const unit = convert(frame.measure.graph, ONE, term.unit, frame.stockUnit)
    if (!unit.ok) return { kind: 'none', reason: 'no conversion' }
    const inSteps = unit.value.div(frame.measure.finestStep)
    const multiple = parts(ratio(term.multiple).equals(ZERO) ? ONE : inSteps.mul(ratio(term.multiple)))
    return {
      kind: 'buy', supplier: String(term.supplierId), minimum: Number(upwards(inSteps.mul(ratio(term.minimum)))), multiple: { numerator: multiple.n.toString(), denominator: multiple.d.toString() },
      leadDays: term.leadDays, calendar: term.calendarId === null ? null : String(term.calendarId),
    }
  }
  return [...frames.values()].filter(frame => frame.kind === 'stocked').map(frame => ({
    id: String(frame.id), safety: frame.status === 'active' ? stepsOf(frame, ratio(safety(frame))) : 0, source: sourceOf(frame),
    onHand: (stock.get(frame.id) ?? []).map(s => ({ lot: s.lot, quantity: stepsOf(frame, ratio(s.quantity)), expiresOn: s.expiresOn })),
  }))
}

/** Steps of each component for one step of the parent; lines of the same component are one, so that it is rounded once. */
function componentsOf(parent: Frame, lines: LoadedStructure['lines'], frames: ReadonlyMap<number, Frame>): Component[] {
  return [...groupBy(lines, line => Number(line.child))].map(([child, own]) => {
    const step = frames.get(child)!.measure.finestStep
    const fixed = own.reduce((sum, line) => sum.add(line.fixed), ZERO).div(step)
    const per = own.reduce((sum, line) => sum.add(needOf({ ...line, fixed: ZERO }, parent.measure.finestStep)), ZERO).div(step)
    const denominator = parts(fixed).d * parts(per).d
    return { node: String(child), numerator: (parts(per).n * (denominator / parts(per).d)).toString(), fixedNumerator: (parts(fixed).n * (denominator / parts(fixed).d)).toString(), denominator: denominator.toString() }
  })
}

type Steps = (itemId: number, amount: string | Ratio) => number

async function loadOrders(reader: Reader, steps: Steps): Promise<{ open: Demand[], all: { itemId: number, day: string, quantity: number }[] }> {
  const found = await rows<{ id: number, itemId: number, dueOn: string, number: string, customer: string, open: string, whole: string }>(reader, sql`
    select l.id, l.item_id as "itemId", o.due_on as "dueOn", o.number, c.name as customer, l.quantity - l.shipped as whole,
      l.quantity - l.shipped - coalesce((select sum(a.quantity) from allocations a where a.sales_line_id = l.id), 0) as open
    from sales_lines l join sales_orders o on o.id = l.order_id join customers c on c.id = o.customer_id where o.status = 'open' and l.shipped < l.quantity and l.item_id in (select id from items where kind = 'stocked') order by o.due_on, l.id`)
  const open = found.map((l): Demand => ({ id: `sales:${l.id}`, node: String(l.itemId), day: l.dueOn, quantity: steps(l.itemId, l.open), kind: 'sales order', label: `${l.number} ${l.customer}`, priority: 0 }))
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
    const left = consumeForecast(periods, (ordered.get(itemId) ?? []).map(o => ({ day: toDay(o.day), quantity: o.quantity })), settings.demandRule)
    return left.flatMap((period, at) => spreadForecast(period.quantity, period.first, settings.forecastFalls === 'spread' ? period.last : period.first, calendar)
      .map((part): Demand => ({ id: `forecast:${periods[at]!.cell.forecastId}:${itemId}:${periods[at]!.cell.startsOn}:${toIso(part.day)}`, node: String(itemId), day: toIso(part.day), quantity: part.quantity, kind: 'forecast', label: `Forecast “${periods[at]!.cell.name}”`, priority: 1 })))
  })
}

async function loadPurchases(reader: Reader, steps: Steps): Promise<Supply[]> {
  const found = await rows<{ id: number, itemId: number, dueOn: string, number: string, open: string }>(reader, sql`
    select l.id, l.item_id as "itemId", l.due_on as "dueOn", o.number, l.quantity - l.received as open from purchase_lines l join purchase_orders o on o.id = l.order_id
    where o.status = 'open' and not l.closed_short and l.received < l.quantity and l.item_id in (select id from items where kind = 'stocked') order by l.due_on, l.id`)
  return found.map(l => ({ id: `purchase:${l.id}`, node: String(l.itemId), day: l.dueOn, quantity: steps(l.itemId, l.open), kind: 'purchase order', label: l.number }))
}

/** Goods on their way between sites: they are there on the day that their transfer is due, or now where that is past. */
async function loadTransfers(reader: Reader, steps: Steps, start: string): Promise<Supply[]> {
  const found = await rows<{ id: number, itemId: number, dueOn: string, number: string, way: string }>(reader, sql`
    select l.id, l.item_id as "itemId", greatest(t.due_on, ${start}::date) as "dueOn", t.number, l.shipped - l.received - l.lost as way from transfer_lines l join transfers t on t.id = l.transfer_id where t.status = 'open' and l.shipped > l.received + l.lost order by 3, l.id`)
  return found.map(l => ({ id: `transfer:${l.id}`, node: String(l.itemId), day: l.dueOn, quantity: steps(l.itemId, l.way), kind: 'transfer', label: l.number }))
}

async function loadOpenJobs(reader: Reader, { frames }: LoadedStructure, steps: Steps): Promise<{ demands: Demand[], supplies: Supply[] }> {
  const demands: Demand[] = []
  const supplies: Supply[] = []
  const builds = await rows<{ id: number, number: string, itemId: number, left: string, dueOn: string }>(reader, sql`
    select id, number, item_id as "itemId", greatest(quantity - made, 0) as left, due_on as "dueOn" from builds where status in ('draft', 'ready', 'started') order by id`)
  for (const build of builds) if (ratio(build.left).compare(ZERO) > 0) supplies.push({ id: `build:${build.id}`, node: String(build.itemId), day: build.dueOn, quantity: steps(build.itemId, build.left), kind: 'build', label: build.number })
  // What a build still takes, less what is set aside for it: that is not counted as on hand either.
  const lines = await rows<{ buildId: number, number: string, code: string, itemId: number, releaseOn: string, open: string }>(reader, sql`
    select b.id as "buildId", b.number, i.code, l.item_id as "itemId", b.release_on as "releaseOn", l.need - l.covered - coalesce((select sum(a.quantity) from allocations a where a.build_line_id = l.id), 0) as open
    from build_lines l join builds b on b.id = l.build_id join items i on i.id = b.item_id where b.status in ('draft', 'ready', 'started') order by b.id, l.position`)
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
