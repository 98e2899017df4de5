import { ZERO, type Ratio } from '../units/exact'
import type { Structure, StructureLine } from './compile'
import { ExactSums } from './roll-ups'
import { needOf } from './lines'

export interface ExplodedRow {
  readonly item: string
  readonly quantity: Ratio
  readonly level: number
}

/**
 * Totals everything needed, at every level, to make `quantity` of the root.
 *
 * Shape:  one row per item below the root, parents before children; an item reached by several paths has one summed
 *         row.
 *         `level` is the longest path from the root.
 * Units:  `quantity` in the root's stock unit; each row in its own item's. Exact, unrounded. What is needed once a
 *         build counts
 *         once for the total of its parent.
 * Cost:   about one visit per item and line below the root.
 * Source: Cormen et al., Introduction to Algorithms, 3rd ed., section 22.4 (relaxing a DAG in topological order).
 *
 * @example 2 tables × 4 legs × 3 screws, plus 2 screws per top → leg 8, screw 28
 */
export function explode(structure: Structure, root: string, quantity: Ratio): readonly ExplodedRow[] {
  const start = structure.at.get(root)
  if (start === undefined) {
    return []
  }
  const { items, first, child, per, fixed } = structure
  const need = new ExactSums(items.length)
  const level = new Int32Array(items.length)
  need.set(start, quantity)
  const rows: ExplodedRow[] = []
  const reached = new Uint8Array(items.length)
  reached[start] = 1
  let last = start
  for (let item = start; item <= last; item++) {
    if (reached[item] === 0) {
      continue
    }
    need.reduce(item)
    if (item !== start) {
      rows.push({ item: items[item]!, quantity: need.get(item), level: level[item]! })
    }
    for (let line = first[item]!; line < first[item + 1]!; line++) {
      const below = child[line]!
      reached[below] = 1
      if (below > last) {
        last = below
      }
      if (level[below]! <= level[item]!) {
        level[below] = level[item]! + 1
      }
      need.addProduct(below, per, line, need, item)
      if (!need.isZero(item)) {
        need.add(below, fixed, line)
      }
    }
  }
  return rows
}

export interface IndentedRow {
  readonly item: string
  readonly line: StructureLine
  readonly depth: number
  readonly quantity: Ratio
}

/**
 * Everything below the root as a person writes it down: each component beneath its parent, as often as it occurs.
 *
 * Shape:  rows in the order of the lines, each followed by what is below it; `depth` 1 is a direct component.
 * Errors: `too-long` where there are more than `most` rows: shared sub-assemblies are written out wherever they occur.
 */
export function explodeIndented(
  structure: Structure,
  root: string,
  quantity: Ratio,
  { deep = Infinity, most = 50_000 } = {},
):
  | { readonly ok: true; readonly value: readonly IndentedRow[] }
  | { readonly ok: false; readonly error: { readonly code: 'too-long'; readonly most: number } } {
  const rows: IndentedRow[] = []
  const open: IndentedRow[] = []
  const put = (item: string, amount: Ratio, depth: number): void => {
    const index = structure.at.get(item)
    if (index === undefined || depth > deep) {
      return
    }
    for (let line = structure.first[index + 1]! - 1; line >= structure.first[index]!; line--) {
      open.push({
        item: structure.lines[line]!.child,
        line: structure.lines[line]!,
        depth,
        quantity: amount.equals(ZERO) ? ZERO : needOf(structure.lines[line]!, amount),
      })
    }
  }
  put(root, quantity, 1)
  for (let row = open.pop(); row; row = open.pop()) {
    if (rows.push(row) > most) {
      return { ok: false, error: { code: 'too-long', most } }
    }
    put(row.item, row.quantity, row.depth + 1)
  }
  return { ok: true, value: rows }
}
