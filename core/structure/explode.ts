import { ZERO, type Ratio } from '../units'
import type { Structure } from './compile'
import { needOf } from './need-of'

export interface ExplodedRow { readonly item: string, readonly quantity: Ratio, readonly level: number }

/**
 * Totals everything needed, at every level, to make `quantity` of the root.
 *
 * Shape:  one row per item below the root, parents before children; an item reached by several paths has one summed row.
 *         `level` is the longest path from the root.
 * Units:  `quantity` in the root's stock unit; each row in its own item's. Exact, unrounded.
 * Cost:   about one visit per item and line below the root.
 * Source: Cormen et al., Introduction to Algorithms, 3rd ed., section 22.4 (relaxing a DAG in topological order).
 *
 * @example 2 tables × 4 legs × 3 screws, plus 2 screws per top → leg 8, screw 28
 */
export function explode(structure: Structure, root: string, quantity: Ratio): readonly ExplodedRow[] {
  const need = new Map<string, { quantity: Ratio, level: number }>([[root, { quantity, level: 0 }]])
  const rows: ExplodedRow[] = []
  const start = structure.order.indexOf(root)
  if (start < 0) return rows
  for (const item of structure.order.slice(start)) {
    const here = need.get(item)
    if (!here) continue
    if (item !== root) rows.push({ item, ...here })
    for (const line of structure.children.get(item) ?? []) {
      const known = need.get(line.child) ?? { quantity: ZERO, level: 0 }
      need.set(line.child, { quantity: known.quantity.add(needOf(line, here.quantity)), level: Math.max(known.level, here.level + 1) })
    }
  }
  return rows
}
