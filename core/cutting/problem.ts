/** Lengths in whole finest steps throughout. */
export interface WantedLength {
  readonly id: string
  readonly length: number
  readonly count: number
  /** Lengths of one job may be asked to come from one lot. */ readonly job: string
}
export interface StockLength {
  readonly id: string
  readonly length: number
  readonly lot: string | null
}
/** Lengths wanted of pieces in stock. Everything in whole finest steps of the length. */
export interface CuttingProblem {
  readonly wanted: readonly WantedLength[]
  readonly stock: readonly StockLength[]
  /** What each cut takes away. */
  readonly kerf: number
  /** The least offcut that goes back to stock; what is shorter is waste. Infinity: nothing goes back. */
  readonly keep: number
  readonly oneLotPerJob: boolean
}

/** One piece and what is cut from it, in order. */
export interface Cut {
  readonly stock: string
  readonly parts: readonly string[]
}

/**
 * The problem with like things counted together: kinds of lengths, kinds of pieces. `size` is a length with its cut.
 */
export interface Counted {
  readonly kerf: number
  readonly keep: number
  readonly lengths: readonly {
    readonly length: number
    readonly size: number
    readonly count: number
    readonly ids: readonly string[]
  }[]
  readonly pieces: readonly { readonly length: number; readonly ids: readonly string[] }[]
}

/** So many of each kind of length from one piece. `used`: their sizes together. */
export interface Pattern {
  readonly piece: number
  readonly counts: readonly (readonly [length: number, count: number])[]
  readonly used: number
  readonly cost: number
}

/** Counts together what is alike; longest lengths first, shortest pieces first. */
export function count(problem: Pick<CuttingProblem, 'wanted' | 'stock' | 'kerf' | 'keep'>): Counted {
  const lengths = new Map<number, string[]>()
  for (const cut of problem.wanted) {
    lengths.set(cut.length, [...(lengths.get(cut.length) ?? []), ...Array.from({ length: cut.count }, () => cut.id)])
  }
  const pieces = new Map<number, string[]>()
  for (const piece of problem.stock) {
    pieces.set(piece.length, [...(pieces.get(piece.length) ?? []), piece.id])
  }
  return {
    kerf: problem.kerf,
    keep: problem.keep,
    lengths: [...lengths]
      .sort(([a], [b]) => b - a)
      .map(([length, ids]) => ({ length, size: length + problem.kerf, count: ids.length, ids })),
    pieces: [...pieces].sort(([a], [b]) => a - b).map(([length, ids]) => ({ length, ids })),
  }
}

/** What is left of a piece after sizes of `used` together; the cut at its very end costs nothing. */
export const restOf = (length: number, used: number): number => Math.max(0, length - used)

/** What a piece is used up by: all of it, unless what is left goes back to stock. */
export function costOf(length: number, used: number, keep: number): number {
  if (used === 0) {
    return 0
  }
  const rest = restOf(length, used)
  return rest > 0 && rest >= keep ? length - rest : length
}
