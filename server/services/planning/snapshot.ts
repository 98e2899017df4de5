import { toDay } from '~~/core/calendar/days'
import { makeCalendar, spanOf } from '~~/core/calendar/working'
import type { DemandRule } from '~~/core/planning/demand'
import type { FixedOrder, PlanInput, PlanNode } from '~~/core/planning/input'
import { ratio, type Ratio } from '~~/core/units/exact'
import type { Reader } from '~~/server/database/client'
import type { PlanScope } from '~~/shared/planning/requests'
import { ALL_OF_IT } from '~~/shared/planning/words'
import { loadStructure } from '../structure/load-structure'
import { arrivalsBy, type Arrivals } from './arrivals'
import { loadCalendars } from './calendars'
import { loadPlannedSites, type PlannedSites } from './planned-sites'
import { loadNodes } from './snapshot-nodes'
import { stepsOf } from './snapshot-context'
import { loadOpenJobs, NOTHING, loadTransfers, loadPurchases } from './snapshot-supply'
import { loadHeads, loadLines, joinOrders, loadForecastDemand, loadShipped } from './snapshot-demand'

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

export interface Around {
  readonly reader: Reader
  readonly steps: Steps
  readonly places: PlannedSites
  readonly scope: PlanScope
  readonly start: string
  readonly arrives: Arrivals
  /** The lead time of an item of our own making or moving, in working days. */
  readonly leadDaysOf: (itemId: number) => number
}

type Steps = (itemId: number, amount: string | Ratio) => number

/**
 * Everything that the engine plans on, as it stands now: quantities in whole finest steps. Goods and lines allocated to
 * each other are both left out.
 */
export async function takeSnapshot(reader: Reader, settings: PlanSettings): Promise<PlanInput> {
  const scope = settings.scope ?? ALL_OF_IT
  const structure = await loadStructure(reader, settings.start)
  const { items: items } = structure
  const calendars = await loadCalendars(reader)
  const places = await loadPlannedSites(reader, scope)
  const { weekdays, closed } = calendars[places.calendarOf(places.areas.main)]!
  const workingDays = makeCalendar(weekdays, closed)
  const around: Around = {
    reader,
    places,
    scope,
    start: settings.start,
    arrives: arrivalsBy(calendars),
    leadDaysOf: (itemId) => items.get(itemId)?.leadDays ?? 0,
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
    settings.forecastIds.length === 0
      ? []
      : await loadForecastDemand(around, settings, workingDays, [
          ...orders.all,
          ...(await loadShipped(around, settings.start)),
        ])
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
    calendars,
    nodes: withPullInWindows(maker.makeAll(wanted), calendars, settings.start),
    demands,
    supplies,
    ...(fixed.length > 0 ? { fixed } : {}),
    ...(scope.pullIn ? {} : { pullIn: false }),
    ...(scope.keepSafety ? {} : { keepSafety: false }),
    ...(scope.longestLeadDays === null ? {} : { longestLeadDays: scope.longestLeadDays }),
  }
}

/**
 * A node without a pull-in window of its own has its lead time in calendar days: five working days reach over a
 * weekend. Shorter, an order that was placed today would come too late to be seen, and be bought a second time.
 */
function withPullInWindows(
  nodes: readonly PlanNode[],
  calendars: PlanInput['calendars'],
  start: string,
): readonly PlanNode[] {
  const first = toDay(start)
  const windows = new Map<string, number>()
  const windowOf = (calendar: string, leadDays: number): number => {
    const key = `${calendar} ${leadDays}`
    const { weekdays, closed } = calendars[calendar]!
    const days = windows.get(key) ?? spanOf(makeCalendar(weekdays, closed), first, leadDays)
    windows.set(key, days)
    return days
  }
  return nodes.map((node) =>
    node.pullInDays === undefined && node.source.kind !== 'none' && node.source.calendar !== null
      ? { ...node, pullInDays: windowOf(node.source.calendar, node.source.leadDays) }
      : node,
  )
}

/** Where two sites share their stock, a move between them brings nothing. */
const isWithin = (places: PlannedSites, { itemId, siteId, fromSiteId }: KeptOrder): boolean =>
  fromSiteId !== null && places.nodeAt(itemId, fromSiteId) === places.nodeAt(itemId, siteId)
