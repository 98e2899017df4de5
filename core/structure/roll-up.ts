import { ONE, ZERO, type Ratio } from '../units'
import type { Structure } from './compile'
import { needOf } from './need-of'

/**
 * What one stock unit of every item costs when it is made from components at `costOf`, plus its own work.
 *
 * Shape:  an entry for every item of the structure; made items are rolled up from below, the others take `costOf`.
 * Units:  money per stock unit, exact. `workOf`: money of work per stock unit. A fixed part of a build counts once for one unit.
 */
export function rollUp(structure: Structure, costOf: (item: string) => Ratio, workOf: (item: string) => Ratio): ReadonlyMap<string, Ratio> {
  const costs = new Map<string, Ratio>()
  for (const item of [...structure.order].reverse()) {
    const lines = structure.children.get(item)
    costs.set(item, lines
      ? lines.reduce((sum, line) => sum.add(needOf(line, ONE).mul(costs.get(line.child) ?? ZERO)), workOf(item))
      : costOf(item))
  }
  return costs
}
