import { toDay, toIso } from '~~/core/calendar/days'
import { type LotRule, type PlanInput, type PlanNode } from '~~/core/planning/input'
import { stream } from './figure'

export const START = toDay('2026-10-05')
export const DAYS = 365

/**
 * Of ten bought items: three exactly what is missing, two a fixed quantity, and one each of the other rules and of
 * cover.
 */
const BUYING: readonly LotRule[] = [
  { kind: 'exact' },
  { kind: 'exact' },
  { kind: 'exact' },
  { kind: 'fixed', quantity: 400 },
  { kind: 'fixed', quantity: 1000 },
  { kind: 'cover', days: 14 },
  { kind: 'cover', days: 28 },
  { kind: 'up to', reorderPoint: 100, maximum: 2000 },
  { kind: 'economic', orderCost: 40, holdingCost: 0.5 },
  { kind: 'least cost', orderCost: 40, holdingCost: 0.002 },
]
/** Of ten made ones: two exactly, four a week or two at once, three a fixed batch, one economic. */
const MAKING: readonly LotRule[] = [
  { kind: 'exact' },
  { kind: 'exact' },
  { kind: 'cover', days: 7 },
  { kind: 'cover', days: 7 },
  { kind: 'cover', days: 14 },
  { kind: 'cover', days: 14 },
  { kind: 'fixed', quantity: 100 },
  { kind: 'fixed', quantity: 250 },
  { kind: 'fixed', quantity: 500 },
  { kind: 'economic', orderCost: 30, holdingCost: 0.5 },
]

/** A made-up factory: six levels, four components a parent, demand at every level, lot rules mixed. */
export function makeInput(nodeCount: number, demandCount: number): PlanInput {
  const next = stream(7)
  const levels = 6
  const perLevel = Math.floor(nodeCount / levels)
  const nodes: PlanNode[] = []
  for (let level = 0; level < levels; level++) {
    for (let index = 0; index < perLevel; index++) {
      const components =
        level === levels - 1
          ? []
          : Array.from({ length: 4 }, (_, i) => ({
              node: `${level + 1}.${(index * 4 + i + next(7)) % perLevel}`,
              numerator: String(1 + next(3)),
              fixedNumerator: '0',
              denominator: '2',
            }))
      nodes.push({
        id: `${level}.${index}`,
        safety: next(20),
        onHand: [{ lot: null, quantity: next(500), expiresOn: null }],
        rule: (components.length > 0 ? MAKING : BUYING)[next(10)]!,
        source:
          components.length > 0
            ? {
                kind: 'make',
                structure: 'b',
                leadDays: 2 + next(4),
                calendar: 'week',
                components: [...new Map(components.map((c) => [c.node, c])).values()],
              }
            : {
                kind: 'buy',
                supplier: 's',
                leadDays: 5 + next(20),
                calendar: 'week',
                minimum: 50,
                multiple: { numerator: '25', denominator: '1' },
              },
      })
    }
  }
  // As a snapshot gives them: those of a node together, and the text of a day is one, however many rows name it.
  const days = Array.from({ length: DAYS }, (_, day) => toIso(START + day))
  const asked = Array.from(
    { length: demandCount },
    () => [next(levels) * perLevel + next(perLevel), next(DAYS), 1 + next(40)] as const,
  ).sort((a, b) => a[0] - b[0])
  const demands = asked.map(([node, day, quantity], i) => ({
    id: `d${i}`,
    node: nodes[node]!.id,
    day: days[day]!,
    quantity,
    kind: 'sales order' as const,
    label: '',
    priority: 0,
  }))
  return {
    start: toIso(START),
    end: toIso(START + DAYS - 1),
    calendars: { week: { weekdays: [true, true, true, true, true, false, false], closed: [] } },
    nodes,
    demands,
    supplies: [],
  }
}
