import { toIso } from '../../calendar/days'
import type { Limit } from '../compile'
import type { NetPlan } from '../netting'
import type { ExplainedNode } from './explain-node'

/** Of a node that could not be netted there is only to say so. */
export function beyondLimit({ compiled }: NetPlan, index: number, limit: Limit): ExplainedNode {
  const { id, safety } = compiled.nodes[index]!
  return {
    plan: { id, level: compiled.levels[index]!, onHand: 0, safety, days: [] },
    orders: [],
    pegs: [],
    messages: [{ code: 'beyond limit', node: id, day: toIso(compiled.start), quantity: 0, limit }],
  }
}
