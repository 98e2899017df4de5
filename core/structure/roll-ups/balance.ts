import { convert, type Dimension, type UnitGraph } from '../../units/graph'
import { ONE, ZERO, type Ratio } from '../../units/exact'

export interface Part {
  readonly graph: UnitGraph
  readonly amount: Ratio
  readonly unit: string
}
/**
 * What goes in, what comes out, what is stated as lost, and what of it nobody accounts for (below zero: more comes out
 * than goes in).
 */
export interface Balance {
  readonly unit: string
  readonly goesIn: Ratio
  readonly comesOut: Ratio
  readonly lost: Ratio
  readonly rest: Ratio
}

/** The dimensions that stay the same when something is cut or filled, each with the unit in which it is told. */
const KEPT: readonly (readonly [Dimension, string])[] = [
  ['mass', 'kg'],
  ['volume', 'L'],
  ['area', 'm2'],
  ['length', 'm'],
]

/**
 * Whether a break-down balances: mass, volume, area or length, the first in which all of them can be said.
 *
 * `loss` is in the bulk item's own units. Null where they have no such dimension in common.
 */
export function balanceOf(bulk: Part, loss: Part | null, outputs: readonly Part[]): Balance | null {
  for (const [, unit] of KEPT) {
    const said = [bulk, ...(loss ? [loss] : []), ...outputs].map((part) => inUnit(part, unit))
    if (said.some((entry) => entry === null)) {
      continue
    }
    const [goesIn, ...others] = said as Ratio[]
    const lost = loss ? others.shift()! : ZERO
    const comesOut = others.reduce((sum, quantity) => sum.add(quantity), ZERO)
    return { unit, goesIn: goesIn!, comesOut, lost, rest: goesIn!.sub(comesOut).sub(lost) }
  }
  return null
}

function inUnit({ graph, amount, unit }: Part, wanted: string): Ratio | null {
  if (!graph.units.has(wanted)) {
    return null
  }
  const entry = convert(graph, ONE, unit, wanted)
  return entry.ok ? amount.mul(entry.value) : null
}
