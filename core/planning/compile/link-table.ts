import type { PlanNode } from '../input'
import { exactly } from './beyond-limit'
import type { WorkDays } from './work-days'

/** Numbers that a plain number cannot hold exactly: numerator, fixed, denominator. */
export type Exact = readonly [numerator: bigint, fixed: bigint, denominator: bigint]

/** A ratio of needs in plain numbers where they are exact; else not a number, with the exact ones beside. */
export interface Per {
  readonly numerator: number
  readonly fixed: number
  readonly denominator: number
  readonly exact?: Exact
}

export function perOf(c: {
  readonly numerator: string
  readonly fixedNumerator: string
  readonly denominator: string
}): Per {
  const [numerator, fixed, denominator] = [Number(c.numerator), Number(c.fixedNumerator), Number(c.denominator)]
  if (Number.isSafeInteger(numerator) && Number.isSafeInteger(fixed) && Number.isSafeInteger(denominator)) {
    return { numerator, fixed, denominator }
  }
  return {
    numerator: NaN,
    fixed: NaN,
    denominator: NaN,
    exact: [BigInt(c.numerator), BigInt(c.fixedNumerator), BigInt(c.denominator)],
  }
}

/**
 * What an order of `quantity` needs or gives: up-to-step((quantity × numerator + fixed) ÷ denominator), rounded up once
 * for the order; or, of whole `runs`, numerator a run of `denominator`. Throws beyond 2^53.
 */
export function amountAt(
  runs: boolean,
  numerator: number,
  fixed: number,
  denominator: number,
  quantity: number,
  exact?: Exact,
): number {
  if (runs) {
    return numerator * Math.ceil(quantity / denominator)
  }
  const whole = quantity * numerator + fixed
  if (whole < 2 ** 53) {
    // Of whole numbers below 2^53 the quotient's error cannot reach the next whole number.
    const steps = Math.floor(whole / denominator)
    return steps * denominator < whole ? steps + 1 : steps
  }
  return exactAmount(quantity, exact ?? [BigInt(numerator), BigInt(fixed), BigInt(denominator)])
}

function exactAmount(quantity: number, [numerator, fixed, denominator]: Exact): number {
  return exactly(Number((BigInt(quantity) * numerator + fixed + denominator - 1n) / denominator))
}

/** What orders of a node give another beside: a by-product, or another output of a break-down. */
export interface ByProductLink extends Per {
  readonly producer: number
  readonly runs: boolean
}

/**
 * What an order of `quantity` gives beside: in whole steps, rounded down once for the order as a whole, so that it
 * hides no shortage. Throws beyond 2^53.
 */
export function givenAt({ runs, numerator, fixed, denominator, exact }: ByProductLink, quantity: number): number {
  if (runs) {
    return numerator * Math.ceil(quantity / denominator)
  }
  const whole = quantity * numerator + fixed
  if (whole < 2 ** 53) {
    const steps = Math.floor(whole / denominator)
    return steps * denominator > whole ? steps - 1 : steps
  }
  const [up, more, down] = exact ?? [BigInt(numerator), BigInt(fixed), BigInt(denominator)]
  return exactly(Number((BigInt(quantity) * up + more) / down))
}

/**
 * What every node asks of its components, in columns: the links to a component lie together, from `useFirst[component]`
 * on; the components of a parent are found from `partFirst` on.
 */
export class LinkTable {
  readonly parent: Int32Array
  readonly runs: Uint8Array
  readonly numerator: Float64Array
  readonly fixed: Float64Array
  readonly denominator: Float64Array
  readonly offsetDays: Int32Array
  readonly calendar: Int32Array
  readonly exact = new Map<number, Exact>()
  readonly days: WorkDays[] = []

  private constructor(
    count: number,
    readonly useFirst: Int32Array,
    readonly part: Int32Array,
    readonly partFirst: Int32Array,
  ) {
    this.parent = new Int32Array(count)
    this.runs = new Uint8Array(count)
    this.numerator = new Float64Array(count)
    this.fixed = new Float64Array(count)
    this.denominator = new Float64Array(count)
    this.offsetDays = new Int32Array(count)
    this.calendar = new Int32Array(count)
  }

  /** `nodes` in the order of netting; every component is among them. */
  static of(
    nodes: readonly PlanNode[],
    entry: ReadonlyMap<string, number>,
    daysOf: (calendar: string | null) => WorkDays,
  ): LinkTable {
    const [useFirst, partFirst] = [new Int32Array(nodes.length + 1), new Int32Array(nodes.length + 1)]
    const part: number[] = []
    for (let parent = 0; parent < nodes.length; parent++) {
      const { source } = nodes[parent]!
      if (source.kind === 'make') {
        for (const component of source.components) {
          part.push(entry.get(component.node)!)
        }
      } else if (source.kind === 'break down' || source.kind === 'move') {
        part.push(entry.get(source.from)!)
      }
      partFirst[parent + 1] = part.length
    }
    for (const child of part) {
      useFirst[child + 1]!++
    }
    for (let i = 0; i < nodes.length; i++) {
      useFirst[i + 1]! += useFirst[i]!
    }
    const table = new LinkTable(part.length, useFirst, Int32Array.from(part), partFirst)
    const next = useFirst.slice()
    const calendars = new Map<string | null, number>()
    for (let parent = 0; parent < nodes.length; parent++) {
      const { id, source } = nodes[parent]!
      if (source.kind === 'none' || source.kind === 'buy') {
        continue
      }
      let calendar = calendars.get(source.calendar)
      if (calendar === undefined) {
        calendar = table.days.push(daysOf(source.calendar)) - 1
        calendars.set(source.calendar, calendar)
      }
      const first = partFirst[parent]!
      if (source.kind === 'make') {
        source.components.forEach((c, i) =>
          table.put(next[part[first + i]!]!++, parent, false, perOf(c), c.offsetDays ?? 0, calendar),
        )
      } else if (source.kind === 'move') {
        table.put(next[part[first]!]!++, parent, false, { numerator: 1, fixed: 0, denominator: 1 }, 0, calendar)
      } else {
        table.put(
          next[part[first]!]!++,
          parent,
          true,
          {
            numerator: source.take,
            fixed: 0,
            denominator: source.outputs.find((output) => output.node === id)?.quantity ?? 1,
          },
          0,
          calendar,
        )
      }
    }
    return table
  }

  private put(place: number, parent: number, runs: boolean, per: Per, offsetDays: number, calendar: number): void {
    this.parent[place] = parent
    this.runs[place] = runs ? 1 : 0
    this.numerator[place] = per.numerator
    this.fixed[place] = per.fixed
    this.denominator[place] = per.denominator
    this.offsetDays[place] = offsetDays
    this.calendar[place] = calendar
    if (per.exact) {
      this.exact.set(place, per.exact)
    }
  }
}
