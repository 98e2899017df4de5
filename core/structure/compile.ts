import type { Ratio } from '../units'

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
}

export interface Structure {
  readonly children: ReadonlyMap<string, readonly StructureLine[]>
  readonly parents: ReadonlyMap<string, readonly StructureLine[]>
  /** Parents before children. */
  readonly order: readonly string[]
  /** Longest path from a top item, in lines: the low-level code. */
  readonly level: ReadonlyMap<string, number>
}

export type StructureError = { readonly code: 'cycle', readonly path: readonly string[] }

/**
 * Arranges lines for the questions asked of them.
 *
 * Errors: `cycle` (the path, first item repeated last).
 * Cost:   one visit per item and line.
 * Source: Kahn, Topological sorting of large networks, CACM 5 (1962); low-level code as in the APICS dictionary.
 */
export function compileStructure(lines: readonly StructureLine[]): { readonly ok: true, readonly value: Structure } | { readonly ok: false, readonly error: StructureError } {
  const children = new Map<string, StructureLine[]>()
  const parents = new Map<string, StructureLine[]>()
  const level = new Map<string, number>()
  const waiting = new Map<string, number>()
  for (const line of lines) {
    listOf(children, line.parent).push(line)
    listOf(parents, line.child).push(line)
    waiting.set(line.child, (waiting.get(line.child) ?? 0) + 1)
    if (!waiting.has(line.parent)) waiting.set(line.parent, 0)
  }
  const order = [...waiting].filter(([, count]) => count === 0).map(([item]) => item)
  for (const item of order) level.set(item, 0)
  for (let i = 0; i < order.length; i++) {
    const item = order[i]!
    for (const { child } of children.get(item) ?? []) {
      level.set(child, Math.max(level.get(child) ?? 0, level.get(item)! + 1))
      const left = waiting.get(child)! - 1
      waiting.set(child, left)
      if (left === 0) order.push(child)
    }
  }
  if (order.length < waiting.size) return { ok: false, error: { code: 'cycle', path: findLoop(lines)! } }
  return { ok: true, value: { children, parents, order, level } }
}

/** The first loop found, as a path whose first item is repeated last; null where there is none. */
export function findLoop(lines: readonly Pick<StructureLine, 'parent' | 'child'>[]): readonly string[] | null {
  const children = new Map<string, string[]>()
  for (const { parent, child } of lines) listOf(children, parent).push(child)
  const done = new Set<string>()
  for (const start of children.keys()) {
    const path: string[] = []
    const stack: { item: string, next: number }[] = [{ item: start, next: 0 }]
    while (stack.length > 0) {
      const top = stack.at(-1)!
      if (top.next === 0) {
        if (done.has(top.item)) { stack.pop(); continue }
        path.push(top.item)
      }
      const child = children.get(top.item)?.[top.next++]
      if (child === undefined) { done.add(top.item); path.pop(); stack.pop() }
      else if (path.includes(child)) return [...path.slice(path.indexOf(child)), child]
      else stack.push({ item: child, next: 0 })
    }
  }
  return null
}

function listOf<T>(map: Map<string, T[]>, key: string): T[] {
  const list = map.get(key) ?? []
  if (list.length === 0) map.set(key, list)
  return list
}
