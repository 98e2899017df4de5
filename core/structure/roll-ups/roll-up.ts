import { ONE, parts, ratio, type Ratio } from '../../units/exact'
import type { Structure } from '..'

/** Money per stock unit, exact: of what is bought, of work, and of everything else, at all levels together. */
export interface UnitCost {
  readonly material: Ratio
  readonly work: Ratio
  readonly other: Ratio
  readonly total: Ratio
}

/** What a roll-up needs to know of items. All money is per stock unit of the item. */
export interface Costing {
  /** What one costs where it is not made. */
  readonly bought: (item: string) => Ratio
  /** What making one adds of its own. */
  readonly work?: (item: string) => Ratio
  readonly other?: (item: string) => Ratio
  /** How many are made at once, over which what is needed once a build is spread; one where it is not said. */
  readonly build?: (item: string) => Ratio
  /** The share of the cost that stays with the item; by-products carry the rest. */
  readonly keeps?: (item: string) => Ratio
}

/**
 * What one stock unit of every item costs: made items rolled up from below, the others as they are bought.
 *
 * Shape: an entry for every item of the structure, or for the root and what is below it.
 * Cost:  one visit per line. Prices with long denominators make long sums: round them before, to nine decimals say.
 */
export function rollUp(structure: Structure, costing: Costing, root?: string): ReadonlyMap<string, UnitCost> {
  const { items, first, child, per, fixed, lines } = structure
  const within = root === undefined ? null : below(structure, root)
  const sums = new Array<Sum>(items.length)
  const costs = new Map<string, UnitCost>()
  for (let item = items.length - 1; item >= 0; item--) {
    if (within && within[item] === 0) {
      continue
    }
    const name = items[item]!
    const sum = new Sum()
    if (first[item] === first[item + 1]) {
      sum.add(costing.bought(name), MATERIAL)
    } else {
      addMade(sum, name)
      addLines(sum, item, costing.build?.(name) ?? ONE)
      const keeps = costing.keeps?.(name)
      if (keeps) {
        sum.scale(keeps)
      }
      sum.shorten()
    }
    sums[item] = sum
    costs.set(name, sum)
  }
  return costs

  function addMade(sum: Sum, name: string): void {
    if (costing.work) {
      sum.add(costing.work(name), WORK)
    }
    if (costing.other) {
      sum.add(costing.other(name), OTHER)
    }
  }

  function addLines(sum: Sum, item: number, build: Ratio): void {
    for (let line = first[item]!; line < first[item + 1]!; line++) {
      sum.addTimes(per.pair(line), sums[child[line]!]!)
      if (!fixed.isZero(line)) {
        sum.addTimes(pairOf(lines[line]!.fixed.div(build)), sums[child[line]!]!)
      }
    }
  }
}

type Pair = readonly [n: bigint, d: bigint]
type Part = 'm' | 'w' | 'o'
const MATERIAL: Part = 'm'
const WORK: Part = 'w'
const OTHER: Part = 'o'
const pairOf = (value: Ratio): Pair => {
  const { n, d } = parts(value)
  return [n, d]
}
const LONG = 1n << 256n

/** The three parts of a cost over one denominator, which is multiplied only where a term does not fit it. */
class Sum implements UnitCost {
  private m = 0n
  private w = 0n
  private o = 0n
  private d = 1n

  get material(): Ratio {
    return ratio(this.m, this.d)
  }
  get work(): Ratio {
    return ratio(this.w, this.d)
  }
  get other(): Ratio {
    return ratio(this.o, this.d)
  }
  get total(): Ratio {
    return ratio(this.m + this.w + this.o, this.d)
  }

  add(value: Ratio, part: Part): void {
    if (value.n === 0n) {
      return
    }
    const [n, d] = pairOf(value)
    this[part] += n * this.fit(d)
  }

  addTimes([n, d]: Pair, { m, w, o, d: e }: Sum): void {
    const k = n * this.fit(d * e)
    if (m !== 0n) {
      this.m += k * m
    }
    if (w !== 0n) {
      this.w += k * w
    }
    if (o !== 0n) {
      this.o += k * o
    }
  }

  scale(value: Ratio): void {
    const [n, d] = pairOf(value)
    this.m *= n
    this.w *= n
    this.o *= n
    this.d *= d
  }

  shorten(): void {
    if (this.d < LONG) {
      return
    }
    const g = gcd(gcd(gcd(this.d, this.m), this.w), this.o)
    this.m /= g
    this.w /= g
    this.o /= g
    this.d /= g
  }

  /** What a numerator over `e` is to be multiplied by; the sum is brought over a denominator that `e` divides. */
  private fit(e: bigint): bigint {
    if (e === this.d) {
      return 1n
    }
    if (this.d % e === 0n) {
      return this.d / e
    }
    const g = gcd(this.d, e)
    const up = e / g
    const k = this.d / g
    this.m *= up
    this.w *= up
    this.o *= up
    this.d *= up
    return k
  }
}

function gcd(a: bigint, b: bigint): bigint {
  while (b !== 0n) {
    ;[a, b] = [b, a % b]
  }
  return a < 0n ? -a : a
}

/** Marks the root and everything below it. */
export function below(structure: Structure, root: string): Uint8Array {
  const reached = new Uint8Array(structure.items.length)
  const start = structure.at.get(root)
  if (start === undefined) {
    return reached
  }
  reached[start] = 1
  for (let item = start; item < reached.length; item++) {
    if (reached[item] === 1) {
      for (let line = structure.first[item]!; line < structure.first[item + 1]!; line++) {
        reached[structure.child[line]!] = 1
      }
    }
  }
  return reached
}
