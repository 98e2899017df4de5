import { toIso } from '../../calendar/days'
import { groupBy } from '../../group-by'
import type { Compiled, Dated } from '../compile'
import type { Peg, PlanMessage } from './output'
import type { Wanted } from './peg-node'

/** That what is missing on a day waits for open supply, which comes later. */
export interface Wait {
  readonly day: number
  readonly supply: Dated
  readonly comes: number
  readonly missing: number
}

/** Who waits for open supply that comes too late: whom it serves on a day before it. */
export function lateSupplies(
  { start }: Compiled,
  node: string,
  { waits, wanted, pegs }: { readonly waits: readonly Wait[]; wanted: readonly Wanted[]; pegs: readonly Peg[] },
): readonly PlanMessage[] {
  if (waits.length === 0) {
    return []
  }
  const dayOf = new Map(wanted.map((demand) => [demand.id, demand.day]))
  return waits.map(({ day, supply, comes, missing }) => ({
    code: 'late supply',
    node,
    day: toIso(start + day),
    quantity: missing,
    supply: supply.row.id,
    comes: toIso(start + comes),
    waiting: pegs
      .filter((peg) => peg.supply === supply.row.id && dayOf.get(peg.demand)! < comes)
      .map((peg) => peg.demand),
  }))
}

/** What orders of other nodes brought after this one was netted, one message for each of those. */
export function notNetted(
  { start, nodes }: Compiled,
  node: string,
  given: readonly { readonly producer: number; readonly day: number; readonly quantity: number }[],
): readonly PlanMessage[] {
  return [...groupBy(given, (entry) => entry.producer)].map(([producer, entries]) => ({
    code: 'not netted',
    node,
    day: toIso(start + Math.min(...entries.map((entry) => entry.day))),
    quantity: entries.reduce((sum, entry) => sum + entry.quantity, 0),
    by: nodes[producer]!.id,
  }))
}
