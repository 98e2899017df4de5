import { toDay } from '../../calendar/days'
import type { Compiled } from '../compile'
import type { PlanNode } from '../input'

/** The safety stock of each day; none where the plan keeps none or the node only hands through. */
export function fillSafety({ input, start, span }: Compiled, node: PlanNode, safety: Float64Array): void {
  const kept = input.keepSafety !== false && !(node.source.kind === 'make' && node.source.isPassThrough)
  safety.fill(kept ? node.safety : 0)
  if (kept) {
    for (const season of node.seasons ?? []) {
      for (
        let index = Math.max(0, toDay(season.first) - start);
        index <= Math.min(span - 1, toDay(season.last) - start);
        index++
      ) {
        safety[index] = season.safety
      }
    }
  }
}
