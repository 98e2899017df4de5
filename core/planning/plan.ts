import { makeCalendar, everyDay, toDay, type WorkingCalendar } from '../calendar'
import { ok, refuse, type Result } from '../result'
import { compileStructure } from '../structure'
import { ONE, ZERO } from '../units'
import type { PlanInput, PlanNode } from './input'
import { netNode, type OpenSupply, type TimedDemand } from './net-node'
import type { NodePlan, Peg, PlanMessage, PlannedOrder, PlanOutput } from './output'
import { requirementsOf } from './requirements'

export type PlanError =
  | { readonly code: 'cycle', readonly path: readonly string[] }
  | { readonly code: 'end-before-start', readonly start: string, readonly end: string }
  | { readonly code: 'unknown-node', readonly node: string, readonly by: string }

/**
 * Computes what will run short, and the orders that would prevent it.
 *
 * Nodes are taken by low-level code, so that every parent has spoken before its components are netted.
 * Pure: the same input gives the same output; the order of input rows does not matter.
 * Units:  whole finest steps. Errors: `cycle`; `end-before-start`; `unknown-node`.
 * Source: APICS dictionary, material requirements planning; Orlicky, Material Requirements Planning (1975), gross-to-net logic.
 */
export function plan(input: PlanInput): Result<PlanOutput, PlanError> {
  if (input.end < input.start) return refuse({ code: 'end-before-start', start: input.start, end: input.end })
  const nodes = new Map(input.nodes.map(node => [node.id, node]))
  const levels = levelsOf(input.nodes, nodes)
  if (!levels.ok) return levels
  const calendars = new Map(Object.entries(input.calendars).map(([id, c]) => [id, makeCalendar(c.weekdays, c.closed)]))
  const calendarOf = (id: string | null): WorkingCalendar => (id !== null && calendars.get(id)) || everyDay
  const start = toDay(input.start)
  const horizon = { start, end: toDay(input.end) }

  const demands = new Map<string, TimedDemand[]>()
  const supplies = new Map<string, OpenSupply[]>()
  for (const demand of input.demands) {
    if (!nodes.has(demand.node)) return refuse({ code: 'unknown-node', node: demand.node, by: demand.id })
    push(demands, demand.node, { id: demand.id, day: toDay(demand.day), quantity: demand.quantity, priority: demand.priority })
  }
  for (const supply of input.supplies) {
    if (!nodes.has(supply.node)) return refuse({ code: 'unknown-node', node: supply.node, by: supply.id })
    push(supplies, supply.node, { id: supply.id, day: toDay(supply.day), quantity: supply.quantity })
  }

  const out = { nodes: [] as NodePlan[], orders: [] as PlannedOrder[], pegs: [] as Peg[], messages: [] as PlanMessage[] }
  for (const id of levels.value.order) {
    const node = nodes.get(id)!
    const netted = netNode(node, demands.get(id) ?? [], supplies.get(id) ?? [], horizon, calendarOf('calendar' in node.source ? node.source.calendar : null))
    out.nodes.push({ ...netted.plan, level: levels.value.level.get(id)! })
    out.orders.push(...netted.orders)
    out.pegs.push(...netted.pegs)
    out.messages.push(...netted.messages)
    for (const order of netted.orders) {
      const { needs, byProducts } = requirementsOf(order, node)
      for (const need of needs) push(demands, need.node, { id: `${order.id}>${need.node}`, day: toDay(order.release), quantity: need.quantity, priority: 0 })
      for (const output of byProducts) push(supplies, output.node, { id: `${order.id}+${output.node}`, day: toDay(order.due), quantity: output.quantity })
    }
  }
  return ok(out)
}

function levelsOf(list: readonly PlanNode[], nodes: ReadonlyMap<string, PlanNode>): Result<{ order: readonly string[], level: ReadonlyMap<string, number> }, PlanError> {
  const lines: { parent: string, child: string }[] = []
  for (const { id, source } of list) {
    const children = source.kind === 'make' ? source.components.map(c => c.node) : source.kind === 'break down' ? [source.from] : []
    for (const child of children) {
      if (!nodes.has(child)) return refuse({ code: 'unknown-node', node: child, by: id })
      lines.push({ parent: id, child })
    }
  }
  const compiled = compileStructure(lines.map(line => ({ ...line, per: ONE, fixed: ZERO, scrap: ZERO, outputYield: ONE })))
  if (!compiled.ok) return compiled
  const { at, level: levels } = compiled.value
  const levelOf = (id: string): number => { const place = at.get(id); return place === undefined ? 0 : levels[place]! }
  const level = new Map(list.map(node => [node.id, levelOf(node.id)]))
  const order = [...level.keys()].sort((a, b) => level.get(a)! - level.get(b)! || (a < b ? -1 : 1))
  return ok({ order, level })
}

function push<T>(map: Map<string, T[]>, key: string, value: T): void {
  const list = map.get(key)
  if (list) list.push(value)
  else map.set(key, [value])
}
