import { sql } from 'drizzle-orm'
import { printDay } from '~~/core/calendar/days'
import { demandsAtRisk, figuresOf } from '~~/core/planning/what-if'
import { describeMessage, orderOfNeed } from '~~/core/planning/explain'
import type { DemandRule } from '~~/core/planning/demand'
import { db, rows } from '~~/server/database/client'
import { MEASURED_ITEM } from '~~/server/database/sql'
import { Refusal } from '~~/server/utils/refusal'
import { itemOf, siteOf } from '~~/shared/planning/node-id'
import { loadMeasuredItems, type MeasuredItem } from '../catalogue/measured-items'
import { tellNearTiers } from './made-of'
import { readRun } from './runs'
import { loadWriting } from '../company/company'
import { inOrderUnits } from './order-units'
import { happenedSince } from './happened-since'
import { loadPlan, loadWhatIfItems, nodesInScope, scopeOf } from './stored-plan'
import { amount, loadSiteNames } from './site-names'
import type { PlannedItem, ToldMessage } from '../../../shared/planning/answers'

export interface PlannedOrderRow {
  id: number
  ref: string
  itemId: number
  code: string
  name: string
  kind: 'buy' | 'make' | 'break down' | 'move'
  quantity: string
  symbol: string
  releaseOn: string
  dueOn: string
  lateBy: number
  promisedOn: string
  supplier: string | null
  supplierId: number | null
  siteId: number | null
  site: string | null
  fromSite: string | null
  state: 'proposed' | 'fixed' | 'released'
  documentKind: string | null
  documentId: number | null
  documentNumber: string | null
}

/**
 * The snapshot that a plan was computed on, before what is tried out, and what its changes are read with: for computing
 * along while somebody looks.
 */
export async function readSnapshot(id: number): Promise<string> {
  // As text: it is only handed on, and may be many megabytes.
  const [found] = await rows<{ input: string | null }>(db, sql`select input::text from plans where id = ${id}`)
  if (!found?.input) {
    throw new Refusal('not-found', 'There is no such plan.')
  }
  return `{"snapshot":${found.input},"items":${JSON.stringify(Object.fromEntries(await loadWhatIfItems(db)))}}`
}

/** So often a plan is read anew that was computed while it was read. */
const MOST_TRIES = 5

/**
 * A plan as the board and the list show it: items on which anything happens, planned orders, messages; all of it as it
 * was at one moment. Where it is computed while it is read, it is read once more: orders of another version could not
 * be released.
 */
export async function readPlan(id: number, today: string): ReturnType<typeof readOnce> {
  for (let tries = 1; ; tries++) {
    const told = await readOnce(id, today)
    if (told.version === told.run.version || tries === MOST_TRIES) {
      return told
    }
  }
}

async function readOnce(id: number, today: string) {
  const { row, input, output, ran, scope } = await loadPlan(db, id, true)
  const among = await nodesInScope(db, input, scope)
  const measuredItems = await loadMeasuredItems(db, 'all')
  const busy = output.nodes.filter(
    (node) =>
      (among === null || among.has(node.id)) &&
      (node.days.length > 1 ||
        node.days.some((d) => d.grossRequirements > 0 || d.scheduledReceipts > 0 || d.netRequirements > 0)),
  )
  const groups = new Map(
    (
      await rows<{ id: number; name: string }>(
        db,
        sql`select i.id, g.name from items i join item_groups g on g.id = i.group_id`,
      )
    ).map((entry) => [entry.id, entry.name]),
  )
  const supplierNames = new Map(
    (await rows<{ id: number; name: string }>(db, sql`select id, name from suppliers`)).map((entry) => [
      String(entry.id),
      entry.name,
    ]),
  )
  const siteNames = await loadSiteNames(input, scope)
  const several = new Set(busy.filter((node) => siteOf(node.id) !== null).map((node) => itemOf(node.id)))
  const sources = new Map(input.nodes.map((node) => [node.id, node.source]))
  const items = Object.fromEntries(
    busy.map(({ id: node }) => {
      const f = measuredItems.get(itemOf(node))!
      const source = sources.get(node)!
      return [
        node,
        {
          itemId: f.id,
          code: f.code,
          name: f.name,
          symbol: f.symbol,
          decimals: decimalsOf(f),
          step: f.finestStep,
          source: f.source,
          plannedSource: source.kind,
          site: several.has(f.id) ? siteNames(node) : null,
          group: groups.get(f.id) ?? '',
          supplier: source.kind === 'buy' ? (supplierNames.get(source.supplier) ?? null) : null,
        } satisfies PlannedItem,
      ]
    }),
  )
  const supplies = new Map(input.supplies.map((s) => [s.id, s.label]))
  const demands = new Map(input.demands.map((d) => [d.id, d.label]))
  const { dateFormat } = await loadWriting()
  const words = {
    item: (node: string) =>
      `${measuredItems.get(itemOf(node))!.code} ${measuredItems.get(itemOf(node))!.name}${siteOf(node) === null ? '' : ` at ${siteNames(node)}`}`,
    quantity: (node: string, steps: number) => amount(measuredItems.get(itemOf(node))!, steps),
    day: (iso: string) => printDay(iso, today, dateFormat),
    ref: (ref: string) => supplies.get(ref) ?? demands.get(ref) ?? plannedLabel(orderOfNeed(ref)) ?? ref,
  }
  const nodeByRef = new Map(output.orders.map((order) => [order.id, order.node]))
  /** What a planned order is for, where it waits for something. */
  const plannedLabel = (ref: string): string | undefined => {
    const node = nodeByRef.get(ref)
    return node === undefined ? undefined : `what is planned of ${measuredItems.get(itemOf(node))!.code}`
  }
  const risky = demandsAtRisk(input, output)
  const planned = await listPlanned(id)
  const times = new Map(output.orders.map((order) => [order.id, order.why.times]))
  const inUnits = await inOrderUnits(db, planned, times, measuredItems)
  return {
    id: row.id,
    name: row.name,
    note: row.note,
    kind: row.kind as 'trial' | 'working',
    startsOn: row.startsOn,
    endsOn: row.endsOn,
    /** To when what is shown was computed. */
    shownUntil: ran.endsOn,
    demandRule: row.demandRule as DemandRule,
    forecastFalls: row.forecastFalls,
    forecastIds: row.forecastIds,
    scope: scopeOf(row),
    changes: row.changes,
    ranAt: row.ranAt,
    since: await happenedSince(db, row.ranAt),
    version: row.version,
    run: await readRun(id),
    items,
    nodes: busy,
    orders: planned.map((order) => ({
      ...order,
      inUnit: inUnits.get(order.ref) ?? null,
      node: nodeByRef.get(order.ref) ?? String(order.itemId),
    })),
    figures: figuresOf(input, output, among),
    nearTiers: tellNearTiers(input, output, measuredItems).filter(
      (tier) => among === null || among.has(String(tier.itemId)),
    ),
    among: among === null ? null : [...among],
    messages: output.messages
      .filter((m) => among === null || among.has(m.node))
      .map((m): ToldMessage => ({
        code: m.code,
        node: m.node,
        itemId: itemOf(m.node),
        day: m.day,
        text: describeMessage(m, words),
        supply:
          (m.code === 'pull in' || m.code === 'push out') && /^(purchase|build|transfer):/.test(m.supply)
            ? { id: m.supply, label: words.ref(m.supply), from: m.from }
            : null,
      })),
    atRisk: input.demands
      .filter(
        (d) =>
          risky.has(d.id) &&
          (among === null || among.has(d.node)) &&
          (d.kind === 'sales order' || d.kind === 'forecast' || d.kind === 'what-if'),
      )
      .map((d) => ({
        id: d.id,
        label: d.label,
        itemId: itemOf(d.node),
        code: measuredItems.get(itemOf(d.node))!.code,
        day: d.day,
        quantity: amount(measuredItems.get(itemOf(d.node))!, d.quantity),
      }))
      .sort((a, b) => (a.day < b.day ? -1 : 1)),
  }
}

export function listPlanned(planId: number): Promise<PlannedOrderRow[]> {
  return rows<PlannedOrderRow>(
    db,
    sql`
      select
        o.id, o.ref, o.item_id as "itemId", i.code, i.name, o.kind, o.quantity, i.symbol,
        o.release_on as "releaseOn", o.due_on as "dueOn", o.late_by as "lateBy", o.promised_on as "promisedOn",
        s.name as supplier, o.supplier_id as "supplierId", o.site_id as "siteId", t.name as site, f.name as "fromSite", o.state,
        o.document_kind as "documentKind", o.document_id as "documentId",
        case o.document_kind
          when 'purchase order' then (select number from purchase_orders where id = o.document_id)
          when 'build' then (select number from builds where id = o.document_id)
          when 'break-down' then (select number from break_downs where id = o.document_id)
          when 'transfer' then (select number from transfers where id = o.document_id)
        end as "documentNumber"
      from planned_orders o
      join ${MEASURED_ITEM} i on i.id = o.item_id
      left join suppliers s on s.id = o.supplier_id
      left join sites t on t.id = o.site_id
      left join sites f on f.id = o.from_site_id
      where o.plan_id = ${planId}
      order by (o.state = 'released'), o.release_on, o.due_on, i.code, o.id`,
  )
}

const decimalsOf = (item: MeasuredItem): number => item.measure.graph.units.get(item.stockUnit)?.decimals ?? 2
