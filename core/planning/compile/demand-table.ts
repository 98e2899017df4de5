import { toDay, type Day } from '../../calendar/days'
import type { Demand } from '../input'

/**
 * A date that is known to be one, as a day: a plan reads a million of them. Source: H. Hinnant, chrono-compatible
 * low-level date algorithms, days_from_civil.
 */
function dayOf(iso: string): Day {
  if (iso.length !== 10) {
    return toDay(iso)
  }
  const digit = (index: number): number => iso.charCodeAt(index) - 48
  const month = digit(5) * 10 + digit(6)
  const year = digit(0) * 1000 + digit(1) * 100 + digit(2) * 10 + digit(3) - (month <= 2 ? 1 : 0)
  const era = Math.floor(year / 400)
  const ofEra = year - era * 400
  const ofYear = Math.floor((153 * (month + (month > 2 ? -3 : 9)) + 2) / 5) + digit(8) * 10 + digit(9) - 1
  return era * 146_097 + ofEra * 365 + Math.floor(ofEra / 4) - Math.floor(ofEra / 100) + ofYear - 719_468
}

/** A demand each: its day, its quantity and which row it was; those of node n from `first[n]` to `first[n + 1]`. */
interface Columns {
  readonly entry: Int32Array
  readonly quantity: Float64Array
  readonly row: Int32Array
  readonly first: Int32Array
}

/**
 * A million demands as columns, those of a node together: a day from the start of the plan on (before it where past
 * due), a quantity, and which row it was.
 */
export class DemandTable {
  readonly entry: Int32Array
  readonly quantity: Float64Array
  private readonly row: Int32Array
  private readonly first: Int32Array

  private constructor(
    private readonly columns: Columns,
    private readonly rows: readonly Demand[],
    private readonly own: ReadonlyMap<number, readonly Demand[]>,
    private readonly start: Day,
  ) {
    this.entry = columns.entry
    this.quantity = columns.quantity
    this.row = columns.row
    this.first = columns.first
  }

  /** Errors: `unknown-node`. */
  static of(
    rows: readonly Demand[],
    nodes: ReadonlyMap<string, number>,
    count: number,
    start: Day,
  ): DemandTable | { readonly code: 'unknown-node'; readonly node: string; readonly by: string } {
    const [target, days, quantities] = [
      new Int32Array(rows.length),
      new Int32Array(rows.length),
      new Float64Array(rows.length),
    ]
    const first = new Int32Array(count + 1)
    let id = ''
    let node: number | undefined
    for (let i = 0; i < rows.length; i++) {
      // Rows of a node that follow each other are looked up once.
      if (rows[i]!.node !== id || i === 0) {
        id = rows[i]!.node
        node = nodes.get(id)
      }
      if (node === undefined) {
        return { code: 'unknown-node', node: id, by: rows[i]!.id }
      }
      target[i] = node
      first[node + 1]!++
      days[i] = dayOf(rows[i]!.day) - start
      quantities[i] = rows[i]!.quantity
    }
    for (let node = 0; node < count; node++) {
      first[node + 1]! += first[node]!
    }
    const next = first.slice()
    const [index, quantity, row] = [
      new Int32Array(rows.length),
      new Float64Array(rows.length),
      new Int32Array(rows.length),
    ]
    for (let i = 0; i < rows.length; i++) {
      const place = next[target[i]!]!++
      index[place] = days[i]!
      quantity[place] = quantities[i]!
      row[place] = i
    }
    return new DemandTable({ entry: index, quantity, row, first }, rows, new Map(), start)
  }

  /** The same, with all the demands of some nodes replaced. */
  with(changed: ReadonlyMap<number, readonly Demand[]>): DemandTable {
    return changed.size === 0
      ? this
      : new DemandTable(this.columns, this.rows, new Map([...this.own, ...changed]), this.start)
  }

  /** Adds what a node's demands want to each day; what is past due to the first. */
  addTo(gross: Float64Array, node: number): void {
    const own = this.own.size === 0 ? undefined : this.own.get(node)
    if (own) {
      for (const demand of own) {
        const day = Math.max(0, toDay(demand.day) - this.start)
        if (day < gross.length) {
          gross[day]! += demand.quantity
        }
      }
      return
    }
    const { entry: index, quantity, first } = this
    for (let i = first[node]!; i < first[node + 1]!; i++) {
      const day = index[i]! < 0 ? 0 : index[i]!
      if (day < gross.length) {
        gross[day]! += quantity[i]!
      }
    }
  }

  rowsOf(node: number): readonly Demand[] {
    return (
      this.own.get(node) ??
      Array.from(
        { length: this.first[node + 1]! - this.first[node]! },
        (_, i) => this.rows[this.row[this.first[node]! + i]!]!,
      )
    )
  }
}
