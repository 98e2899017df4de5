import type { Ratio } from '../units/exact'
import { ExactSums } from './roll-ups'
import { findLoop } from './loops'

/** One component of one parent. Quantities in each item's own stock unit, exact. */
export interface StructureLine {
  readonly parent: string
  readonly child: string
  /** Child stock units per parent stock unit, scrap and yield not yet counted. */
  readonly per: Ratio
  /** Child stock units per build, whatever its size. */
  readonly fixed: Ratio
  /** Share lost, 0 ≤ scrap < 1. */
  readonly scrap: Ratio
  /** Share of the batch that comes out good, 0 < yield ≤ 1. */
  readonly outputYield: Ratio
  /** Working days after the release of the parent on which the child is wanted. */
  readonly offsetDays?: number
  /** Built straight into its parent when none is in stock. */
  readonly phantom?: boolean
}

/**
 * Lines arranged for the questions asked of them. Items have the numbers of their place in `items`, parents before
 * children; the lines of a parent stand side by side.
 */
export interface Structure {
  readonly items: readonly string[]
  readonly at: ReadonlyMap<string, number>
  readonly lines: readonly StructureLine[]
  /** The lines of item i are first[i] … first[i + 1] − 1. */
  readonly first: Int32Array
  readonly child: Int32Array
  readonly parent: Int32Array
  /** The lines in which item i is the child are uses[firstUse[i]] … uses[firstUse[i + 1] − 1]. */
  readonly firstUse: Int32Array
  readonly uses: Int32Array
  /** Longest path from a top item, in lines: the low-level code. */
  readonly level: Int32Array
  /** What a line needs for one of its parent, yield and scrap counted; and what it needs once a build. */
  readonly per: ExactSums
  readonly fixed: ExactSums
}

export type StructureError = { readonly code: 'cycle'; readonly path: readonly string[] }

/** Numbers names in the order in which they are met. */
function numbering(): { readonly names: readonly string[]; readonly number: (name: string) => number } {
  const numbers = new Map<string, number>()
  const names: string[] = []
  const number = (name: string): number => {
    const known = numbers.get(name)
    if (known !== undefined) {
      return known
    }
    numbers.set(name, names.length)
    return names.push(name) - 1
  }
  return { names, number }
}

/** Items with parents before children, and each one's longest way down from the top; null where there is a loop. */
function byDepth(
  target: Int32Array,
  down: ReturnType<typeof arrange>,
  count: number,
): { readonly order: Int32Array; readonly depth: Int32Array } | null {
  const waiting = new Int32Array(count)
  for (const child of target) {
    waiting[child]!++
  }
  const depth = new Int32Array(count)
  const order = new Int32Array(count)
  let known = 0
  for (let item = 0; item < count; item++) {
    if (waiting[item] === 0) {
      order[known++] = item
    }
  }
  for (let index = 0; index < known; index++) {
    const item = order[index]!
    for (let i = down.first[item]!; i < down.first[item + 1]!; i++) {
      const child = target[down.sorted[i]!]!
      if (depth[child]! <= depth[item]!) {
        depth[child] = depth[item]! + 1
      }
      if (--waiting[child]! === 0) {
        order[known++] = child
      }
    }
  }
  return known < count ? null : { order, depth }
}

/**
 * Arranges lines for the questions asked of them.
 *
 * Errors: `cycle` (the path, first item repeated last).
 * Cost:   one visit per item and line.
 * Source: Kahn, Topological sorting of large networks, CACM 5 (1962); low-level code as in the APICS dictionary.
 */
export function compileStructure(
  given: readonly StructureLine[],
): { readonly ok: true; readonly value: Structure } | { readonly ok: false; readonly error: StructureError } {
  const { names, number } = numbering()
  const from = new Int32Array(given.length)
  const target = new Int32Array(given.length)
  given.forEach((line, index) => {
    from[index] = number(line.parent)
    target[index] = number(line.child)
  })
  const down = arrange(from, names.length)
  const sorted = byDepth(target, down, names.length)
  if (sorted === null) {
    return { ok: false, error: { code: 'cycle', path: findLoop(given)! } }
  }
  const { order, depth } = sorted
  const place = new Int32Array(names.length)
  order.forEach((item, index) => {
    place[item] = index
  })
  const lines: StructureLine[] = new Array<StructureLine>(given.length)
  const first = new Int32Array(names.length + 1)
  const child = new Int32Array(given.length)
  const parent = new Int32Array(given.length)
  let next = 0
  order.forEach((item, index) => {
    first[index] = next
    for (let i = down.first[item]!; i < down.first[item + 1]!; i++, next++) {
      const line = down.sorted[i]!
      lines[next] = given[line]!
      child[next] = place[target[line]!]!
      parent[next] = index
    }
  })
  first[names.length] = next
  const up = arrange(child, names.length)
  const items = Array.from(order, (item) => names[item]!)
  return {
    ok: true,
    value: {
      items,
      at: new Map(items.map((item, index) => [item, index])),
      lines,
      first,
      child,
      parent,
      firstUse: up.first,
      uses: up.sorted,
      level: order.map((item) => depth[item]!),
      per: needsOf(lines),
      fixed: ExactSums.of(lines.map((line) => line.fixed)),
    },
  }
}

/** Places of the entries of `keys`, those of the same key side by side and in their order. */
function arrange(keys: Int32Array, count: number): { first: Int32Array; sorted: Int32Array } {
  const first = new Int32Array(count + 1)
  const sorted = new Int32Array(keys.length)
  for (const key of keys) {
    first[key + 1]!++
  }
  for (let i = 0; i < count; i++) {
    first[i + 1]! += first[i]!
  }
  const next = first.slice()
  keys.forEach((key, index) => {
    sorted[next[key]!++] = index
  })
  return { first, sorted }
}

/** per ÷ yield ÷ (1 − scrap) of every line. */
function needsOf(lines: readonly StructureLine[]): ExactSums {
  const needs = new ExactSums(lines.length)
  lines.forEach(({ per, scrap, outputYield }, index) => {
    if (scrap.n === 0n && outputYield.n === outputYield.d) {
      needs.set(index, per)
    } else {
      needs.setProduct(index, per, outputYield.d * scrap.d, outputYield.n * (scrap.d - scrap.n))
    }
  })
  return needs
}
