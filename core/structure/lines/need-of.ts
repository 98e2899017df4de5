import { ONE, type Ratio } from '../../units/exact'
import type { StructureLine } from '..'

/**
 * What one line needs for `quantity` of its parent: (quantity ÷ yield) × per ÷ (1 − scrap) + fixed.
 *
 * Units: `quantity` in the parent's stock unit, the answer in the child's; exact, not yet on a finest step.
 */
export function needOf(line: Omit<StructureLine, 'parent' | 'child'>, quantity: Ratio): Ratio {
  return quantity.div(line.outputYield).mul(line.per).div(ONE.sub(line.scrap)).add(line.fixed)
}
