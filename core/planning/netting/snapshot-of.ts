import { toIso } from '../../calendar/days'
import type { Compiled } from '../compile'
import type { PlanInput } from '../input'

/** The snapshot that was compiled, with every change that was taken in since. */
export function snapshotOf(compiled: Compiled): PlanInput {
  const { input, nodes, demands, supplies, fixed } = compiled
  const given = new Map(input.nodes.map((node) => [node.id, node]))
  return {
    ...input,
    demands: nodes.flatMap((_, index) => demands.rowsOf(index)),
    supplies: supplies.flatMap((list) => list.map((entry) => entry.row)),
    // A node of a loop was taken as one without a source; it keeps its own.
    nodes: nodes.map((node, index) => (compiled.loops.has(index) ? given.get(node.id)! : node)),
    fixed: [...fixed].flatMap(([index, list]) =>
      list.map((entry) => ({
        id: entry.id,
        node: nodes[index]!.id,
        quantity: entry.quantity,
        due: toIso(entry.due),
        release: toIso(entry.release),
        ...(entry.supplier === undefined ? {} : { supplier: entry.supplier }),
      })),
    ),
  }
}
