import { ONE, ZERO, type Ratio } from '../units'
import type { Structure } from './compile'
import { needOf } from './need-of'

export interface UseRow {
  readonly item: string
  /** How much of the asked item one of this one takes, over all paths, in the asked item's stock unit. */
  readonly quantity: Ratio
  /** 1 where it is a direct parent; the longest path otherwise. */
  readonly level: number
}

/**
 * Every item that contains `item`, directly or through sub-assemblies, nearest first.
 *
 * Quantities per build (fixed lines) count once for one unit of the parent.
 */
export function whereUsed(structure: Structure, item: string): readonly UseRow[] {
  const found = new Map<string, { quantity: Ratio, level: number }>([[item, { quantity: ONE, level: 0 }]])
  const rows: UseRow[] = []
  const upward = [...structure.order].reverse()
  for (const child of upward.slice(upward.indexOf(item))) {
    const here = found.get(child)
    if (!here) continue
    if (child !== item) rows.push({ item: child, ...here })
    for (const line of structure.parents.get(child) ?? []) {
      const known = found.get(line.parent) ?? { quantity: ZERO, level: 0 }
      found.set(line.parent, { quantity: known.quantity.add(needOf(line, ONE).mul(here.quantity)), level: Math.max(known.level, here.level + 1) })
    }
  }
  return rows.sort((a, b) => a.level - b.level || (a.item < b.item ? -1 : 1))
}
