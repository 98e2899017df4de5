import { costOf, type Counted, type Pattern } from './problem'

/** More cells than these are not gone through; lengths are then taken a little longer than they are. */
const MOST_CELLS = 40_000

const gcd = (a: number, b: number): number => (b === 0 ? a : gcd(b, a % b))

/**
 * What lengths are worth together, for every size up to the longest piece: a bounded knapsack, all sizes at once.
 *
 * Source: Gilmore and Gomory, A linear programming approach to the cutting-stock problem, Operations Research 9 (1961),
 *         part II (1963).
 */
export class Knapsack {
  private readonly grain: number
  private readonly cells: number
  private readonly sizes: readonly number[]
  private readonly best: Float64Array
  private readonly taken: Uint16Array[] = []
  /** Whether sizes are exact, so that what is found is truly the best. */
  readonly isExact: boolean

  constructor(
    private readonly problem: Counted,
    private readonly worth: ArrayLike<number>,
    private readonly counts: ArrayLike<number>,
    longest = Math.max(0, ...problem.pieces.map((piece) => piece.length)),
  ) {
    const unit = problem.lengths.reduce((divisor, length) => gcd(length.size, divisor), 0) || 1
    this.grain = Math.max(unit, Math.ceil((longest + problem.kerf) / MOST_CELLS / unit) * unit)
    this.isExact = this.grain === unit
    this.cells = Math.floor((longest + problem.kerf) / this.grain)
    this.sizes = problem.lengths.map((length) => Math.ceil(length.size / this.grain))
    this.best = new Float64Array(this.cells + 1).fill(-Infinity)
    this.best[0] = 0
    let reach = 0
    for (let index = 0; index < this.sizes.length; index++) {
      const taken = new Uint16Array(this.cells + 1)
      this.taken.push(taken)
      const [size, each] = [this.sizes[index]!, worth[index]!]
      const most = Math.min(counts[index]!, Math.floor(this.cells / size))
      if (each <= 0 || most <= 0) {
        continue
      }
      reach = Math.min(this.cells, reach + size * most)
      if (most === 1) {
        this.addOne(size, each, reach, taken)
      } else {
        this.addMany(size, each, most, reach, taken)
      }
    }
  }

  private addOne(size: number, each: number, reach: number, taken: Uint16Array): void {
    for (let cell = reach; cell >= size; cell--) {
      const sum = this.best[cell - size]! + each
      if (sum > this.best[cell]!) {
        this.best[cell] = sum
        taken[cell] = 1
      }
    }
  }

  private addMany(size: number, each: number, most: number, reach: number, taken: Uint16Array): void {
    const before = this.best.slice(0, reach + 1)
    for (let cell = size; cell <= reach; cell++) {
      for (let n = 1; n <= most && n * size <= cell; n++) {
        const sum = before[cell - n * size]! + n * each
        if (sum > this.best[cell]!) {
          this.best[cell] = sum
          taken[cell] = n
        }
      }
    }
  }

  /**
   * The pattern of a kind of piece that is worth most above its cost; null where none is worth anything. `bonus` is
   * added where nothing is left over.
   */
  bestFor(piece: number): { readonly pattern: Pattern; readonly gain: number } | null {
    const { length } = this.problem.pieces[piece]!
    let [index, gain] = [-1, -Infinity]
    for (let cell = 1; cell <= Math.min(this.cells, Math.floor((length + this.problem.kerf) / this.grain)); cell++) {
      if (this.best[cell] === -Infinity) {
        continue
      }
      const own = this.best[cell]! - costOf(length, cell * this.grain, this.problem.keep)
      if (own > gain) {
        gain = own
        index = cell
      }
    }
    if (index < 0) {
      return null
    }
    const counts: [number, number][] = []
    for (let length = this.sizes.length - 1, cell = index; length >= 0 && cell > 0; length--) {
      const n = this.taken[length]![cell]!
      if (n > 0) {
        counts.push([length, n])
        cell -= n * this.sizes[length]!
      }
    }
    return { pattern: patternOf(this.problem, piece, counts.reverse()), gain }
  }
}

export function patternOf(problem: Counted, piece: number, counts: readonly (readonly [number, number])[]): Pattern {
  const used = counts.reduce((sum, [length, n]) => sum + problem.lengths[length]!.size * n, 0)
  return { piece, counts, used, cost: costOf(problem.pieces[piece]!.length, used, problem.keep) }
}
