/** One row of `npm run bench`. `comparedWith` was measured in the same run; `ratio` is value ÷ its value. */
export interface Figure {
  readonly bench: string
  readonly figure: string
  readonly value: number
  readonly unit: string
  readonly comparedWith: string
  readonly ratio: number
}

/** The best of several runs, in milliseconds: what the machine can do when nothing disturbs it. */
export async function best(runs: number, work: () => unknown): Promise<number> {
  let least = Infinity
  for (let i = 0; i < runs; i++) {
    const start = performance.now()
    await work()
    least = Math.min(least, performance.now() - start)
  }
  return least
}

/**
 * A repeatable stream of whole numbers below `limit` (a linear congruential generator, Numerical Recipes' constants).
 */
export function stream(seed: number): (limit: number) => number {
  let state = seed >>> 0
  return (limit) => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0
    return Math.floor((state / 2 ** 32) * limit)
  }
}
