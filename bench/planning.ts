import { toDay, toIso } from '~~/core/calendar'
import { plan, type PlanInput, type PlanNode } from '~~/core/planning'
import { best, stream, type Figure } from './figure'

const START = toDay('2026-10-05')
const DAYS = 365

/** A made-up factory: six levels, four components a parent, demand on the upper levels. */
export function makeInput(nodeCount: number, demandCount: number): PlanInput {
  const next = stream(7)
  const levels = 6
  const perLevel = Math.floor(nodeCount / levels)
  const nodes: PlanNode[] = []
  for (let level = 0; level < levels; level++) {
    for (let at = 0; at < perLevel; at++) {
      const components = level === levels - 1 ? [] : Array.from({ length: 4 }, (_, i) => ({ node: `${level + 1}.${(at * 4 + i + next(7)) % perLevel}`, numerator: String(1 + next(5)), fixedNumerator: '0', denominator: '2' }))
      nodes.push({
        id: `${level}.${at}`, safety: next(20), onHand: [{ lot: null, quantity: next(500), expiresOn: null }],
        source: components.length > 0
          ? { kind: 'make', structure: 'b', leadDays: 2 + next(4), calendar: 'week', components: [...new Map(components.map(c => [c.node, c])).values()] }
          : { kind: 'buy', supplier: 's', leadDays: 5 + next(20), calendar: 'week', minimum: 50, multiple: { numerator: '25', denominator: '1' } },
      })
    }
  }
  const demands = Array.from({ length: demandCount }, (_, i) => ({ id: `d${i}`, node: `${next(2)}.${next(perLevel)}`, day: toIso(START + next(DAYS)), quantity: 1 + next(40), kind: 'sales order' as const, label: '', priority: 0 }))
  return { start: toIso(START), end: toIso(START + DAYS), calendars: { week: { weekdays: [true, true, true, true, true, false, false], closed: [] } }, nodes, demands, supplies: [] }
}

/** What a spreadsheet would do for the independent demand alone: every item, every day. */
function everyDay(input: PlanInput): number {
  const demand = new Map<string, Float64Array>()
  for (const { node, day, quantity } of input.demands) {
    const row = demand.get(node) ?? new Float64Array(DAYS + 1)
    row[toDay(day) - START]! += quantity
    demand.set(node, row)
  }
  let short = 0
  for (const node of input.nodes) {
    let balance = node.onHand[0]!.quantity
    const row = demand.get(node.id)
    for (let day = 0; day <= DAYS; day++) {
      balance -= row?.[day] ?? 0
      if (balance < node.safety) { short++; balance = node.safety }
    }
  }
  return short
}

export async function run(): Promise<Figure[]> {
  const figures: Figure[] = []
  for (const [nodes, demands] of [[300, 3_000], [3_000, 30_000]] as const) {
    const input = makeInput(nodes, demands)
    let orders = 0
    const took = await best(2, () => { const result = plan(input); orders = result.ok ? result.value.orders.length : 0 })
    const twin = await best(3, () => everyDay(input))
    figures.push(
      { bench: 'planning', figure: `${nodes} items, ${demands} demands, 6 levels`, value: took, unit: 'ms', comparedWith: `walking every item's every day, one level (${twin.toFixed(0)} ms)`, ratio: took / twin },
      { bench: 'planning', figure: `planned orders of ${nodes} items`, value: orders / took, unit: 'orders/ms', comparedWith: 'demands read in the same time, a ms', ratio: orders / demands },
    )
  }
  return figures
}
