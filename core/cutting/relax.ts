import { Knapsack } from './patterns'
import type { Counted, Pattern } from './problem'
import { Simplex, type Column } from './simplex'

export interface Relaxed {
  /** No way of cutting uses up less than this, in whole steps. */
  readonly bound: number
  /** Whether the relaxation was solved to its end, and lengths are taken as they are. */
  readonly isTight: boolean
  /** Patterns with how often, not whole, the relaxation takes them. */
  readonly taken: readonly { readonly pattern: Pattern; readonly amount: number }[]
}

/**
 * The linear relaxation of a cutting problem over all patterns, by generating columns.
 *
 * The bound is that of the dual values of each round (Farley), so it holds wherever the rounds end.
 * Cost: a knapsack over all sizes and a few pivots a round.
 * Source: Gilmore and Gomory 1961, 1963; Farley, A note on bounding a class of linear programming problems, Operations
 *         Research 38
 *         (1990); from memory.
 */
export function relax(problem: Counted, rounds = 120): Relaxed {
  const { lengths, pieces } = problem
  const counts = lengths.map((length) => length.count)
  const longest = Math.max(0, ...pieces.map((piece) => piece.length))
  const simplex = new Simplex(
    counts,
    pieces.map((piece) => piece.ids.length),
    longest * 3 + 1,
  )
  const patterns: Pattern[] = []
  const known = new Set<string>()
  let bound = lengths.reduce((sum, length) => sum + length.length * length.count, 0)
  let [ended, isExact] = [false, true]
  for (let round = 0; round < rounds && !ended; round++) {
    simplex.solve()
    const duals = simplex.duals()
    const knapsack = new Knapsack(problem, duals.subarray(0, lengths.length), counts)
    isExact &&= knapsack.isExact
    const priced = pieces.map((piece, index) => {
      const price = duals[lengths.length + index]!
      const found = knapsack.bestFor(index)
      const gain = Math.max(0, (found?.gain ?? 0) + price)
      return { dual: (price - gain) * piece.ids.length, pattern: gain > 1e-6 ? found?.pattern : undefined }
    })
    const fresh = priced.flatMap(({ pattern }) => (pattern && !known.has(keyOf(pattern)) ? [pattern] : []))
    ended = fresh.length === 0
    for (const pattern of fresh) {
      known.add(keyOf(pattern))
      patterns.push(pattern)
      simplex.push(columnOf(pattern, lengths.length))
    }
    const dual = priced.reduce(
      (sum, entry) => sum + entry.dual,
      counts.reduce((sum, count, index) => sum + duals[index]! * count, 0),
    )
    if (isExact) {
      bound = Math.max(bound, Math.ceil(dual - 1e-6))
    }
  }
  return {
    bound,
    isTight: ended && isExact,
    taken: simplex.taken().map(({ column, amount }) => ({ pattern: patterns[column]!, amount })),
  }
}

const keyOf = (pattern: Pattern): string => `${pattern.piece}:${pattern.counts.join(';')}`

/** A pattern as a column: what it gives of each length, and one piece of its kind. */
const columnOf = ({ piece, counts, cost }: Pattern, lengths: number): Column => ({
  cost,
  rows: [...counts.map(([length]) => length), lengths + piece],
  values: [...counts.map(([, count]) => count), 1],
})
