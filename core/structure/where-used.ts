import { ONE, type Ratio } from '../units/exact'
import type { Structure } from './compile'
import { ExactSums } from './roll-ups'

export interface UseRow {
  readonly item: string
  /** How much of the asked item one of this one takes, over all paths, in the asked item's stock unit. */
  readonly quantity: Ratio
  /** 1 where it is a direct parent only; the longest path otherwise. */
  readonly level: number
}

/**
 * Every item that contains `item`, directly or through sub-assemblies, nearest first.
 *
 * Quantities per build (fixed lines) count once for one unit of the parent.
 * Cost: about one visit per item and line above it.
 */
export function whereUsed(structure: Structure, item: string): readonly UseRow[] {
  const start = structure.at.get(item)
  if (start === undefined) {
    return []
  }
  const { items, firstUse, uses, parent, per, fixed } = structure
  const taken = new ExactSums(items.length)
  const level = new Int32Array(items.length)
  const reached = new Uint8Array(items.length)
  taken.set(start, ONE)
  reached[start] = 1
  const rows: { at: number; level: number }[] = []
  let top = start
  for (let index = start; index >= top; index--) {
    if (reached[index] === 0) {
      continue
    }
    taken.reduce(index)
    if (index !== start) {
      rows.push({ at: index, level: level[index]! })
    }
    for (let use = firstUse[index]!; use < firstUse[index + 1]!; use++) {
      const line = uses[use]!
      const above = parent[line]!
      reached[above] = 1
      if (above < top) {
        top = above
      }
      if (level[above]! <= level[index]!) {
        level[above] = level[index]! + 1
      }
      taken.addProduct(above, per, line, taken, index)
      taken.addProduct(above, fixed, line, taken, index)
    }
  }
  return rows
    .map((row) => ({ item: items[row.at]!, quantity: taken.get(row.at), level: row.level }))
    .sort((a, b) => a.level - b.level || (a.item < b.item ? -1 : 1))
}
