import { sql } from 'drizzle-orm'
import { toDay, toIso } from '~~/core/calendar/days'
import { makeCalendar } from '~~/core/calendar/working'
import { periodOf, type Step } from '~~/core/calendar/periods'
import { groupBy } from '~~/core/group-by'
import { sortedPlaces } from '~~/core/sorted-places'
import { consumeForecast, shareSteps, spreadForecast } from '~~/core/planning/demand'
import type { Demand } from '~~/core/planning/input'
import { columns, columnsWithTexts, rows, type Reader } from '~~/server/database/client'
import { anyOf, isLive } from '~~/server/database/sql'
import { itemOf } from '~~/shared/planning/node-id'
import { soldBySite } from '../demand/history'
import { atSites } from './planned-sites'
import type { Around, PlanSettings } from './snapshot'
import { salesId } from './supply-ids'

interface Heads {
  readonly ids: readonly number[]
  readonly priorities: readonly number[]
  readonly siteIds: readonly number[]
  readonly days: readonly string[]
  readonly labels: readonly string[]
}

/** What the lines of a sales order share. */
export async function loadHeads({ reader, scope }: Around): Promise<Heads> {
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
export async function loadLines(reader: Reader): Promise<Lines> {
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

/**
 * Lines of sales orders, and all of them whole where a forecast is used up by them, those of an item together: a
 * million of them come as columns, with what they share read once an order.
 */
export function joinOrders(
  { places }: Around,
  heads: Heads,
  [ids, orders, itemIds, wholes, lineIds, aside]: Lines,
  forForecast: boolean,
): { open: Demand[]; all: OrderedAmount[] } {
  const { siteIds, days, labels, priorities } = heads
  const headOf = new Map(heads.ids.map((id, index) => [id, index]))
  const set = new Map(lineIds.map((id, index) => [id, aside[index]!]))
  const open: Demand[] = []
  const all: OrderedAmount[] = []
  const nodeOf = rememberNodes(places)
  for (const place of sortedPlaces(itemIds)) {
    const head = headOf.get(orders[place]!)
    if (head === undefined) {
      continue
    }
    const node = nodeOf(itemIds[place]!, Number.isNaN(siteIds[head]) ? null : siteIds[head]!)
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
        id: salesId(ids[place]!),
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

/** What an order asks of a forecast: an amount at a node on the order’s due date. */
export interface OrderedAmount {
  readonly node: string
  readonly day: string
  readonly quantity: number
}

/** The longest period of a forecast, in days. */
const LONGEST_PERIOD = 31

/**
 * What has been shipped of orders whose due date lies in a period that still counts: it has used up the forecast of
 * that period just as it did while it was open, at the site that shipped it (most of it), so that shipping an order
 * never raises the demand.
 */
export async function loadShipped({ reader, places, scope }: Around, start: string): Promise<OrderedAmount[]> {
  const first = toIso(toDay(start) - LONGEST_PERIOD - scope.aheadDays)
  const shipped = await rows<{ itemId: number; siteId: number | null; day: string; steps: string }>(
    reader,
    sql`
      with due as (
        select
          l.id, l.item_id, o.due_on, coalesce(o.site_id, c.site_id) as site_id,
          ceil(l.shipped / i.finest_step) as steps, o.id as order_id
        from sales_lines l
        join sales_orders o on o.id = l.order_id and o.due_on >= ${first}
        join customers c on c.id = o.customer_id
        join items i on i.id = l.item_id and i.kind = 'stocked'
        where l.shipped > 0
      ),
      sent as (
        select distinct on (m.document_line_id) m.document_line_id as line_id, p.site_id
        from (select distinct order_id from due) d
        join postings s on s.document_kind = 'sales order' and s.document_id = d.order_id
          and s.kind = 'shipment' and ${isLive('s')}
        join moves m on m.posting_id = s.id
        join places p on p.id = m.from_place_id
        where m.document_line_id is not null
        group by m.document_line_id, p.site_id
        order by m.document_line_id, sum(m.quantity) desc, p.site_id
      )
      select
        due.item_id as "itemId", due.due_on as day, due.steps::text as steps,
        coalesce(sent.site_id, due.site_id) as "siteId"
      from due
      left join sent on sent.line_id = due.id
      order by due.item_id, due.id`,
  )
  return shipped.flatMap(({ itemId, siteId, day, steps }) => {
    const node = places.nodeAt(itemId, siteId)
    return node === null ? [] : [{ node, day, quantity: Number(steps) }]
  })
}

/**
 * The node of an item at a site. Asked item by item, the text of each node is one, so that what follows looks it up
 * once.
 */
function rememberNodes(places: Around['places']): (itemId: number, site: number | null) => string | null {
  let last = -1
  const nodes = new Map<number | null, string | null>()
  return (itemId, site) => {
    if (itemId !== last) {
      nodes.clear()
      last = itemId
    }
    let node = nodes.get(site)
    if (node === undefined) {
      node = places.nodeAt(itemId, site)
      nodes.set(site, node)
    }
    return node
  }
}

/**
 * What forecasts say beside the orders. Of a period that has begun, what falls on its working days from the start on
 * counts.
 *
 * A forecast is of an item. It is wanted at the sites that sold the item over the last year, by what each sold; at the
 * main one where none did.
 */
export async function loadForecastDemand(
  { reader, steps, places, scope }: Around,
  settings: PlanSettings,
  calendar: ReturnType<typeof makeCalendar>,
  orders: readonly OrderedAmount[],
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
      where ${anyOf(sql`f.id`, settings.forecastIds)} and c.quantity > 0
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
          parts: shareSteps(steps(itemId, cell.quantity), sold.size > 0 ? [...sold.values()] : [1]),
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
