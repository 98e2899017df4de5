import { everyDay, makeCalendar } from '../../calendar/working'
import { toDay, type Day } from '../../calendar/days'
import { groupBy } from '../../group-by'
import { ok, refuse, type Result } from '../../result'
import {
  compareIds,
  type FixedOrder,
  type Multiple,
  type PlanInput,
  type PlanNode,
  type Source,
  type Supply,
} from '../input'
import { DemandTable } from './demand-table'
import { orderByLevel, type Edges } from './levels'
import { LinkTable, perOf, type ByProductLink } from './link-table'
import { countWorkDays, type WorkDays } from './work-days'

/** Why a snapshot cannot be planned. */
export type PlanError =
  | { readonly code: 'end-before-start'; readonly start: string; readonly end: string }
  | { readonly code: 'unknown-node'; readonly node: string; readonly by: string }

/** One open supply: its day from the start of the plan on; before it where it is past due. */
export interface Dated {
  readonly at: number
  /** The day on which it can come at the soonest; not before the start. */
  readonly earliest: number
  readonly quantity: number
  readonly row: Supply
}

/** A fixed planned order, days from the start on. */
export interface FixedAt {
  readonly id: string
  readonly due: Day
  readonly release: Day
  readonly quantity: number
  readonly supplier: string | undefined
}

/**
 * A snapshot made ready for netting: nodes in the order in which they are netted (level, then id), so that parents come
 * before their components, with everything that belongs to a node found by its number.
 */
export interface Compiled {
  readonly input: PlanInput
  readonly start: Day
  /** Days of the horizon, both ends counted. */
  readonly span: number
  readonly nodes: readonly PlanNode[]
  readonly at: ReadonlyMap<string, number>
  readonly levels: Int32Array
  readonly loops: ReadonlyMap<number, readonly string[]>
  readonly links: LinkTable
  /** By receiver, from whatever node. */
  readonly byProductLinks: ReadonlyMap<number, readonly ByProductLink[]>
  /** Who receives by-products of a node. */
  readonly receivers: ReadonlyMap<number, readonly number[]>
  readonly demands: DemandTable
  readonly supplies: readonly (readonly Dated[])[]
  readonly fixed: ReadonlyMap<number, readonly FixedAt[]>
  daysOf(calendar: string | null): WorkDays
}

/**
 * Reads a snapshot once. Cost: about one visit a row. Errors: `end-before-start`; `unknown-node`. A loop is none: its
 * nodes have no source.
 */
export function compileInput(input: PlanInput): Result<Compiled, PlanError> {
  if (input.end < input.start) {
    return refuse({ code: 'end-before-start', start: input.start, end: input.end })
  }
  const start = toDay(input.start)
  const span = toDay(input.end) - start + 1
  const leveled = levelNodes(input)
  if ('code' in leveled) {
    return refuse(leveled)
  }
  const { nodes, position, levels, loops } = leveled
  const daysOf = workDaysOf(input, nodes, start, span)
  const byProductLinks = linkByProducts(nodes, position)
  const demands = DemandTable.of(input.demands, position, nodes.length, start)
  if (!(demands instanceof DemandTable)) {
    return refuse(demands)
  }
  const supplies = place(input.supplies, position, nodes.length, start)
  if ('code' in supplies) {
    return refuse(supplies)
  }
  const fixed = placeFixed(input.fixed ?? [], position)
  if ('code' in fixed) {
    return refuse(fixed)
  }
  return ok({
    input,
    start,
    span,
    nodes,
    at: position,
    links: LinkTable.of(nodes, position, daysOf),
    byProductLinks,
    receivers: receiversOf(byProductLinks),
    demands,
    supplies,
    fixed,
    daysOf,
    levels,
    loops,
  })
}

/** Nodes in the order in which they are netted, with their places, levels, and the loops that some lie on. */
interface Leveled extends Pick<Compiled, 'nodes' | 'levels' | 'loops'> {
  readonly position: ReadonlyMap<string, number>
}
function levelNodes(input: PlanInput): Leveled | PlanError {
  const position = new Map(input.nodes.map((node, index) => [node.id, index]))
  const needs = edgesOf(input.nodes, position, componentsOf)
  const gives = edgesOf(input.nodes, position, givenBesides)
  if ('code' in needs) {
    return needs
  }
  if ('code' in gives) {
    return gives
  }
  const { order, levels, loops } = orderByLevel(
    input.nodes.map((node) => node.id),
    needs,
    gives,
  )
  const looped = new Map(
    loops.flatMap((path) =>
      [...new Set(path)].map((index): [number, readonly string[]] => [index, path.map((i) => input.nodes[i]!.id)]),
    ),
  )
  const nodes = Array.from(order, (index): PlanNode =>
    looped.has(index)
      ? shaped({ ...input.nodes[index]!, source: { kind: 'none', reason: 'loop' } })
      : shaped(input.nodes[index]!),
  )
  for (let place = 0; place < order.length; place++) {
    position.set(nodes[place]!.id, place)
  }
  return {
    nodes,
    position,
    levels: Int32Array.from(order, (index) => levels[index]!),
    loops: new Map([...looped].map(([index, path]) => [position.get(input.nodes[index]!.id)!, path])),
  }
}

/** From each node to those that it names. */
function edgesOf(
  nodes: readonly PlanNode[],
  position: ReadonlyMap<string, number>,
  named: (source: Source, own: string) => readonly string[],
): Edges | Extract<PlanError, { code: 'unknown-node' }> {
  const [from, to]: [number[], number[]] = [[], []]
  for (const [index, { id, source }] of nodes.entries()) {
    for (const other of named(source, id)) {
      const target = position.get(other)
      if (target === undefined) {
        return { code: 'unknown-node', node: other, by: id }
      }
      from.push(index)
      to.push(target)
    }
  }
  return { from, to }
}

/** Working days of each calendar, counted as far back and ahead as any lead time reaches. */
function workDaysOf(input: PlanInput, nodes: readonly PlanNode[], start: Day, span: number): Compiled['daysOf'] {
  const leads = new Set(nodes.map((node) => ('leadDays' in node.source ? node.source.leadDays : 0)))
  const longest = Math.max(span, ...leads)
  const reach = 2 * longest + 60
  const days = new Map(
    Object.entries(input.calendars).map(([id, { weekdays, closed }]) => [
      id,
      countWorkDays(makeCalendar(weekdays, closed), start - reach, start + span + reach),
    ]),
  )
  const always = countWorkDays(everyDay, start - longest, start + span + longest)
  return (calendar) => (calendar !== null && days.get(calendar)) || always
}

function placeFixed(
  orders: readonly FixedOrder[],
  position: ReadonlyMap<string, number>,
): Map<number, readonly FixedAt[]> | Extract<PlanError, { code: 'unknown-node' }> {
  const fixed = new Map<number, readonly FixedAt[]>()
  for (const [id, rows] of groupBy(orders, (entry) => entry.node)) {
    const target = position.get(id)
    if (target === undefined) {
      return { code: 'unknown-node', node: id, by: rows[0]!.id }
    }
    fixed.set(target, toFixed(rows))
  }
  return fixed
}

/** By producer, who receives by-products of it. */
function receiversOf(byProductLinks: ReadonlyMap<number, readonly ByProductLink[]>): Map<number, number[]> {
  const receivers = new Map<number, number[]>()
  for (const [target, links] of byProductLinks) {
    for (const { producer } of links) {
      receivers.set(producer, [...(receivers.get(producer) ?? []), target])
    }
  }
  return receivers
}

/**
 * A node with every field in its place, whether it was given or not: code that is compiled for one reads them all, and
 * a change does not undo that.
 */
export const shaped = ({
  id,
  onHand,
  safety,
  seasons,
  rule,
  pullInDays,
  source,
  worth,
  others,
}: PlanNode): PlanNode => ({ id, onHand, safety, seasons, rule, pullInDays, source, worth, others })

export function componentsOf(source: Source): readonly string[] {
  if (source.kind === 'make') {
    return source.components.map((component) => component.node)
  }
  return source.kind === 'break down' || source.kind === 'move' ? [source.from] : []
}

/** What an order brings beside its own node. */
function givenBesides(source: Source, own: string): readonly string[] {
  if (source.kind === 'make') {
    return (source.byProducts ?? []).map((part) => part.node)
  }
  return source.kind === 'break down' ? source.outputs.map((output) => output.node).filter((node) => node !== own) : []
}

/** By receiver, what orders of other nodes bring it. */
function linkByProducts(
  nodes: readonly PlanNode[],
  position: ReadonlyMap<string, number>,
): ReadonlyMap<number, readonly ByProductLink[]> {
  const links: { readonly target: number; readonly link: ByProductLink }[] = []
  for (const [producer, { id, source }] of nodes.entries()) {
    if (source.kind === 'make') {
      for (const part of source.byProducts ?? []) {
        links.push({ target: position.get(part.node)!, link: { producer, runs: false, ...perOf(part) } })
      }
    } else if (source.kind === 'break down') {
      const denominator = source.outputs.find((output) => output.node === id)?.quantity ?? 1
      for (const output of source.outputs.filter(({ node }) => node !== id)) {
        const link = { producer, runs: true, numerator: output.quantity, fixed: 0, denominator }
        links.push({ target: position.get(output.node)!, link })
      }
    }
  }
  return new Map(
    [...groupBy(links, (entry) => entry.target)].map(([target, list]) => [target, list.map(({ link }) => link)]),
  )
}

function place(
  rows: readonly Supply[],
  position: ReadonlyMap<string, number>,
  count: number,
  start: Day,
): (readonly Dated[])[] | PlanError {
  const none: readonly Dated[] = []
  const lists = Array.from({ length: count }, () => none)
  for (const row of rows) {
    const target = position.get(row.node)
    if (target === undefined) {
      return { code: 'unknown-node', node: row.node, by: row.id }
    }
    const entry = dated(row, start)
    if (lists[target] === none) {
      lists[target] = [entry]
    } else {
      ;(lists[target] as Dated[]).push(entry)
    }
  }
  for (const list of lists) {
    if (list.length > 1) {
      ;(list as Dated[]).sort(byDay)
    }
  }
  return lists
}

const dated = (row: Supply, start: Day): Dated => ({
  at: toDay(row.day) - start,
  earliest: row.earliest === undefined ? 0 : Math.max(0, toDay(row.earliest) - start),
  quantity: row.quantity,
  row,
})

/** By day, then by id. */
const byDay = (a: Dated, b: Dated): number => a.at - b.at || compareIds(a.row.id, b.row.id)

/** Open supply of a node with its days counted from the start of the plan on, by day, then by id. */
export const toDated = (rows: readonly Supply[], start: Day): readonly Dated[] =>
  rows.map((row) => dated(row, start)).sort(byDay)

/** Fixed orders of a node with their dates as days, by due day, then by id. */
export const toFixed = (rows: readonly FixedOrder[]): readonly FixedAt[] =>
  rows
    .map((row) => ({
      id: row.id,
      due: toDay(row.due),
      release: toDay(row.release),
      quantity: row.quantity,
      supplier: row.supplier,
    }))
    .sort((a, b) => a.due - b.due || compareIds(a.id, b.id))

/** A multiple that any whole quantity is of. */
export const ONE_STEP: Multiple = { numerator: '1', denominator: '1' }
