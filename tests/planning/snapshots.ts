import { plan } from '../../core/planning'
import type { PlanOutput } from '../../core/planning/explain'
import type { Demand, PlanInput, PlanNode, Source, Supply } from '../../core/planning/input'

/** Monday to Friday. */
export const week = { weekdays: [true, true, true, true, true, false, false], closed: [] as string[] }
export const times = (n: number, d = 1): { numerator: string; denominator: string } => ({
  numerator: `${n}`,
  denominator: `${d}`,
})
export const buy = (more: Partial<Extract<Source, { kind: 'buy' }>> = {}): Source => ({
  kind: 'buy',
  supplier: 's',
  leadDays: 0,
  calendar: null,
  minimum: 0,
  multiple: times(1),
  ...more,
})
export const make = (components: [node: string, numerator: string, denominator?: string][], leadDays = 0): Source => ({
  kind: 'make',
  structure: 'b',
  leadDays,
  calendar: null,
  components: components.map(([node, numerator, denominator = '1']) => ({
    node,
    numerator,
    fixedNumerator: '0',
    denominator,
  })),
})
export const node = (id: string, onHand: number, source: Source, safety = 0): PlanNode => ({
  id,
  source,
  safety,
  onHand: onHand > 0 ? [{ lot: null, quantity: onHand, expiresOn: null }] : [],
})
export const demand = (id: string, node: string, day: string, quantity: number): Demand => ({
  id,
  node: node,
  day,
  quantity,
  kind: 'sales order',
  label: id,
  priority: 0,
})
export const supply = (id: string, node: string, day: string, quantity: number): Supply => ({
  id,
  node: node,
  day,
  quantity,
  kind: 'purchase order',
  label: id,
})
/** A plan from Monday, 5 October 2026 on. */
export const input = (nodes: PlanNode[], demands: Demand[], supplies: Supply[] = []): PlanInput => ({
  start: '2026-10-05',
  end: '2026-12-31',
  calendars: { week },
  nodes,
  demands,
  supplies,
})
export const planned = (...args: Parameters<typeof input>): PlanOutput => {
  const result = plan(input(...args))
  if (!result.ok) {
    throw new Error(JSON.stringify(result.error))
  }
  return result.value
}
/** Orders in short: `buy 6 x 2026-10-05→2026-10-08`, from release to due day. */
export const orders = (output: PlanOutput): string[] =>
  output.orders.map((o) => `${o.kind} ${o.quantity} ${o.node} ${o.release}→${o.due}`)
