/**
 * What a plan cannot be reckoned with: sums of steps that a plain number does not hold exactly, or one need split into
 * more orders than anybody places.
 */
export type Limit = 'sum' | 'orders'

/** Thrown deep in the netting; an open plan catches it, and tells of the node. */
export class BeyondLimit extends Error {
  constructor(readonly limit: Limit) {
    super(limit === 'sum' ? 'A sum is beyond 2^53 finest steps' : 'A need is split into too many orders')
  }
}

/** The number itself where it is exact. Throws `BeyondLimit` beyond 2^53. */
export function exactly(steps: number): number {
  // Said this way round, what is no number at all does not pass either.
  if (!(steps <= Number.MAX_SAFE_INTEGER && steps >= Number.MIN_SAFE_INTEGER)) {
    throw new BeyondLimit('sum')
  }
  return steps
}
