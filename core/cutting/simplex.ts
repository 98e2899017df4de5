/** A column of a linear program: its cost, and its entries row by row. */
export interface Column {
  readonly cost: number
  readonly rows: readonly number[]
  readonly values: readonly number[]
}

const EPSILON = 1e-9

/**
 * The revised simplex method with an explicit inverse, for programs whose columns come one after another.
 *
 * Minimises cost under rows `at least` their amount, then rows `at most` theirs. What a row of the first kind lacks may
 * be left missing at `penalty` for one.
 * Source: Chvátal, Linear Programming, chapters 7 and 13 (from memory).
 */
export class Simplex {
  private readonly size: number
  private readonly inverse: Float64Array
  private readonly amounts: Float64Array
  private readonly basis: number[]
  private readonly columns: Column[] = []
  private readonly inBasis: boolean[] = []
  private flat = 0

  constructor(
    private readonly atLeast: readonly number[],
    atMost: readonly number[],
    private readonly penalty: number,
  ) {
    this.size = atLeast.length + atMost.length
    this.inverse = new Float64Array(this.size * this.size)
    this.amounts = Float64Array.from([...atLeast, ...atMost])
    for (let row = 0; row < this.size; row++) {
      this.inverse[row * this.size + row] = 1
    }
    // What is missing of each first row, what is left of each second one; then what each first row has too much.
    this.basis = Array.from({ length: this.size }, (_, row) =>
      this.push({ cost: row < atLeast.length ? penalty : 0, rows: [row], values: [1] }),
    )
    for (let row = 0; row < atLeast.length; row++) {
      this.push({ cost: 0, rows: [row], values: [-1] })
    }
    for (const column of this.basis) {
      this.inBasis[column] = true
    }
  }

  /** Where the columns that were added begin. */
  get first(): number {
    return this.size + this.atLeast.length
  }

  push(column: Column): number {
    this.inBasis.push(false)
    return this.columns.push(column) - 1
  }

  duals(): Float64Array {
    const duals = new Float64Array(this.size)
    for (let row = 0; row < this.size; row++) {
      const { cost } = this.columns[this.basis[row]!]!
      if (cost === 0) {
        continue
      }
      for (let i = 0; i < this.size; i++) {
        duals[i]! += cost * this.inverse[row * this.size + i]!
      }
    }
    return duals
  }

  /** Goes on until no column that is known makes it cheaper. */
  solve(limit = 20_000): void {
    for (let pivots = 0; pivots < limit; pivots++) {
      const duals = this.duals()
      let [entering, best] = [-1, -1e-7]
      for (let index = 0; index < this.columns.length; index++) {
        if (this.inBasis[index]) {
          continue
        }
        const { cost, rows, values } = this.columns[index]!
        let reduced = cost
        for (let i = 0; i < rows.length; i++) {
          reduced -= duals[rows[i]!]! * values[i]!
        }
        if (reduced < best) {
          best = reduced
          entering = index
          if (this.flat > 50) {
            break
          }
        }
      }
      if (entering < 0 || !this.pivot(entering)) {
        return
      }
    }
  }

  private pivot(entering: number): boolean {
    const { rows, values } = this.columns[entering]!
    const step = new Float64Array(this.size)
    for (let row = 0; row < this.size; row++) {
      for (let i = 0; i < rows.length; i++) {
        step[row]! += this.inverse[row * this.size + rows[i]!]! * values[i]!
      }
    }
    let [leaving, least] = [-1, Infinity]
    for (let row = 0; row < this.size; row++) {
      if (step[row]! <= EPSILON) {
        continue
      }
      const ratio = this.amounts[row]! / step[row]!
      if (
        ratio < least - EPSILON ||
        (ratio < least + EPSILON && (leaving < 0 || this.basis[row]! < this.basis[leaving]!))
      ) {
        least = Math.min(least, ratio)
        leaving = row
      }
    }
    if (leaving < 0) {
      return false
    }
    this.flat = least < EPSILON ? this.flat + 1 : 0
    const by = step[leaving]!
    for (let i = 0; i < this.size; i++) {
      this.inverse[leaving * this.size + i]! /= by
    }
    this.amounts[leaving]! /= by
    for (let row = 0; row < this.size; row++) {
      if (row === leaving || step[row] === 0) {
        continue
      }
      for (let i = 0; i < this.size; i++) {
        this.inverse[row * this.size + i]! -= step[row]! * this.inverse[leaving * this.size + i]!
      }
      this.amounts[row] = Math.max(0, this.amounts[row]! - step[row]! * this.amounts[leaving]!)
    }
    this.inBasis[this.basis[leaving]!] = false
    this.inBasis[entering] = true
    this.basis[leaving] = entering
    return true
  }

  /** How much of each column that was added is taken, where any. */
  taken(): { readonly column: number; readonly amount: number }[] {
    return this.basis.flatMap((column, row) =>
      column >= this.first && this.amounts[row]! > EPSILON
        ? [{ column: column - this.first, amount: this.amounts[row]! }]
        : [],
    )
  }
}
