import { ok, refuse, type Result } from '../../result'
import { ONE, ZERO, type Ratio } from '../exact'
import type { Unit } from './standard-units'

/** An item's own relation: one `unit` holds `per` of `of` (a pack or a bridge). */
export interface UnitRelation {
  readonly unit: string
  readonly per: Ratio
  readonly of: string
}

/** Why units cannot be joined or converted. */
export type UnitError =
  | { readonly code: 'unknown-unit'; readonly unit: string }
  | { readonly code: 'no-path'; readonly from: string; readonly to: string }
  | { readonly code: 'not-positive'; readonly unit: string; readonly of: string }
  | {
      readonly code: 'contradiction'
      readonly unit: string
      readonly of: string
      readonly stated: Ratio
      readonly existing: Ratio
      readonly path: readonly string[]
    }

interface Edge {
  readonly to: string
  readonly factor: Ratio
}

/** Every unit in which one item can be expressed, joined by exact ratios. Built by `buildUnitGraph`. */
export interface UnitGraph {
  readonly units: ReadonlyMap<string, Unit>
  readonly edges: ReadonlyMap<string, readonly Edge[]>
}

/**
 * Joins the standard ratios with an item's packs and bridges, in any order.
 *
 * Errors: `unknown-unit`; `not-positive`; `contradiction` where a relation closes a loop and disagrees with the path
 * that is already there (both results and the path are given).
 *
 * @example [pallet = 8 carton, carton = 24 piece] → convert(1, pallet, piece) = 192
 */
export function buildUnitGraph(
  units: ReadonlyMap<string, Unit>,
  relations: readonly UnitRelation[],
): Result<UnitGraph, UnitError> {
  const standard = standardEdges(units)
  if (relations.length === 0) {
    return ok({ units, edges: standard })
  }
  const edges = new Map(standard)
  const join = joining(edges)
  const graph: UnitGraph = { units, edges }
  for (const { unit, per, of: base } of relations) {
    for (const code of [unit, base]) {
      if (!units.has(code)) {
        return refuse({ code: 'unknown-unit', unit: code })
      }
    }
    if (per.compare(ZERO) <= 0) {
      return refuse({ code: 'not-positive', unit, of: base })
    }
    const known = findPath(graph, unit, base)
    if (!known) {
      join(unit, base, per)
    } else if (!known.factor.equals(per)) {
      return refuse({ code: 'contradiction', unit, of: base, stated: per, existing: known.factor, path: known.path })
    }
  }
  return ok(graph)
}

const joining =
  (edges: Map<string, readonly Edge[]>) =>
  (from: string, to: string, factor: Ratio): void => {
    edges.set(from, [...(edges.get(from) ?? []), { to, factor }])
    edges.set(to, [...(edges.get(to) ?? []), { to: from, factor: factor.inverse() }])
  }

/** What all items have in common is joined once for each set of units. */
const standards = new WeakMap<ReadonlyMap<string, Unit>, ReadonlyMap<string, readonly Edge[]>>()
function standardEdges(units: ReadonlyMap<string, Unit>): ReadonlyMap<string, readonly Edge[]> {
  const known = standards.get(units)
  if (known) {
    return known
  }
  const edges = new Map<string, readonly Edge[]>()
  const join = joining(edges)
  for (const unit of units.values()) {
    if (unit.ratio) {
      join(unit.code, `dimension:${unit.dimension}`, unit.ratio)
    }
  }
  standards.set(units, edges)
  return edges
}

/**
 * Expresses an amount of one unit in another, exactly.
 *
 * Errors: `unknown-unit`; `no-path` (the item needs a pack or a bridge between the two).
 */
export function convert(graph: UnitGraph, amount: Ratio, from: string, to: string): Result<Ratio, UnitError> {
  for (const unit of [from, to]) {
    if (!graph.units.has(unit)) {
      return refuse({ code: 'unknown-unit', unit })
    }
  }
  if (from === to) {
    return ok(amount)
  }
  const found = findPath(graph, from, to)
  return found ? ok(amount.mul(found.factor)) : refuse({ code: 'no-path', from, to })
}

/** The units of the graph that `from` can be expressed in, itself first. */
export function reachableUnits(graph: UnitGraph, from: string): readonly Unit[] {
  const found = walk(graph, from)
  return [...found.keys()].flatMap((code) => graph.units.get(code) ?? [])
}

/** The chain of units between two units and what one of the first is in the second; null where none exists. */
export function findPath(
  graph: UnitGraph,
  from: string,
  to: string,
): { readonly factor: Ratio; readonly path: readonly string[] } | null {
  const end = walk(graph, from, to).get(to)
  if (!end) {
    return null
  }
  return { factor: end.factor, path: end.path.filter((code) => !code.startsWith('dimension:')) }
}

function walk(graph: UnitGraph, from: string, until?: string): Map<string, { factor: Ratio; path: readonly string[] }> {
  const seen = new Map([[from, { factor: ONE, path: [from] as readonly string[] }]])
  for (const [code, here] of seen) {
    if (code === until) {
      break
    }
    for (const { to: target, factor } of graph.edges.get(code) ?? []) {
      if (!seen.has(target)) {
        seen.set(target, { factor: here.factor.mul(factor), path: [...here.path, target] })
      }
    }
  }
  return seen
}
