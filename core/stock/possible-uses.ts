import { ratio, ZERO, type Ratio } from '../units/exact'

/** What one act brought into stock of an item that is kept by quantity only, and what it took out. Stock unit. */
export interface Flow {
  readonly act: number
  readonly into: Ratio
  readonly out: Ratio
}

/** Acts that may have taken some of what came in, and how much of it may still be there. */
export interface PossibleUses {
  readonly acts: readonly number[]
  readonly left: Ratio
}

const least = (a: Ratio, b: Ratio): Ratio => (a.compare(b) < 0 ? a : b)

/**
 * Where goods that are kept by quantity only may have gone: every act that took of the item from the moment at which
 * they came in until first in, first out would have used them up; nobody can tell which of it was theirs.
 *
 * Shape:  `flows` in the order of their acts; `entry` is the act that brought the goods in.
 * Units:  stock unit, exact.
 *
 * @example 4 were there, 6 come, then 3, 5, 2 and 1 are taken → the first three; nothing is left. After 3 alone, 6 may
 *   still be there.
 */
export function possibleUses(flows: readonly Flow[], entry: number): PossibleUses {
  const at = flows.findIndex((flow) => flow.act === entry)
  if (at < 0) {
    return { acts: [], left: ZERO }
  }
  const came = flows[at]!.into
  const there = flows.slice(0, at + 1).reduce((sum, flow) => sum.add(flow.into).sub(flow.out), ratio(0))
  // What came in is last in the queue; where more was taken than was there before, it is all of it.
  const queue = there.compare(came) < 0 ? came : there
  const acts: number[] = []
  let taken = ratio(0)
  for (const { act, out } of flows.slice(at + 1)) {
    if (out.compare(ZERO) > 0 && taken.compare(queue) < 0) {
      acts.push(act)
    }
    taken = taken.add(out)
  }
  const rest = queue.sub(taken)
  return { acts, left: rest.compare(ZERO) > 0 ? least(rest, came) : ZERO }
}
