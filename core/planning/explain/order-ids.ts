import type { NetPlan } from '../netting'
import { orderId } from './peg-ids'

/**
 * The id of an order of an open plan, by its place in the table of all: a fixed order's own, or the n-th that is
 * planned of its node.
 */
export function idOf(plan: NetPlan, node: number, order: number): string {
  const { orders, compiled } = plan
  const fixed = orders.fixed[order]!
  if (fixed >= 0) {
    return compiled.fixed.get(node)![fixed]!.id
  }
  let before = 0
  for (let i = orders.first[node]!; i < orders.first[node]! + orders.count[node]! && orders.fixed[i]! >= 0; i++) {
    before++
  }
  return orderId(compiled.nodes[node]!.id, order - orders.first[node]! - before + 1)
}
