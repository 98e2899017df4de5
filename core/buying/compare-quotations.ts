import { shareAmount } from '../sharing'
import { ratio } from '../units/exact'

/** What a supplier quotes for one line: its amount, and the day (ISO text) on which it would be there. */
export interface QuotedLine {
  readonly lineId: number
  readonly amount: bigint
  readonly arrivesOn: string
}

/** What one supplier quotes. Amounts in minor units of one currency; `charges` are paid once, whatever is taken. */
export interface Quoted {
  readonly supplierId: number
  readonly charges: bigint
  readonly lines: readonly QuotedLine[]
}

/** Who is taken for each line, and what all of it costs with the charges of everybody who is taken. */
export interface Choice {
  readonly total: bigint
  readonly suppliers: ReadonlyMap<number, number>
}

/** 2^12 sets of suppliers are looked through in some milliseconds. */
export const MOST_QUOTED = 12

/** What each line of one quotation costs with its share of the charges, by value: they add up to the cent. */
export function landedLines({ charges, lines }: Quoted): ReadonlyMap<number, bigint> {
  const isFree = lines.every((line) => line.amount === 0n)
  const shares =
    lines.length === 0
      ? []
      : shareAmount(
          charges,
          lines.map((line) => ratio(isFree ? 1n : line.amount)),
        )
  return new Map(lines.map((line, index) => [line.lineId, line.amount + shares[index]!]))
}

/**
 * Who should deliver which line so that all of it costs least, charges of each who delivers anything included. Of
 * choices that cost the same, the one with fewer suppliers.
 *
 * `neededOn` (ISO text by line): only what is there by its day counts. Null where a line is quoted by nobody (in time).
 *
 * Every set of suppliers is tried, and each line is bought from the cheapest of the set: with a set's charges given, no
 * other choice costs less. Cost: 2^suppliers × lines; throws above `MOST_QUOTED` suppliers.
 */
export function leastTotal(
  lineIds: readonly number[],
  quoted: readonly Quoted[],
  neededOn: ReadonlyMap<number, string> | null = null,
): Choice | null {
  if (quoted.length > MOST_QUOTED) {
    throw new Error(`At most ${MOST_QUOTED} suppliers can be compared`)
  }
  const amounts = quoted.map(
    ({ lines }) =>
      new Map(
        lines
          .filter((line) => neededOn === null || line.arrivesOn <= neededOn.get(line.lineId)!)
          .map((line) => [line.lineId, line.amount]),
      ),
  )
  let best: Choice | null = null
  for (const members of setsOf(quoted.length)) {
    const choice = cheapestOf(lineIds, quoted, amounts, members)
    if (choice && (best === null || choice.total < best.total)) {
      best = choice
    }
  }
  return best
}

/** All sets of some of `count`, but for the empty one; those with fewer members first. */
function setsOf(count: number): number[][] {
  const sets = Array.from({ length: 2 ** count - 1 }, (_, index) =>
    Array.from({ length: count }, (_member, member) => member).filter((member) => ((index + 1) >> member) & 1),
  )
  return sets.sort((first, second) => first.length - second.length)
}

function cheapestOf(
  lineIds: readonly number[],
  quoted: readonly Quoted[],
  amounts: readonly ReadonlyMap<number, bigint>[],
  members: readonly number[],
): Choice | null {
  let total = members.reduce((sum, member) => sum + quoted[member]!.charges, 0n)
  const suppliers = new Map<number, number>()
  for (const lineId of lineIds) {
    const [cheapest] = members
      .filter((member) => amounts[member]!.has(lineId))
      .sort((first, second) => compare(amounts[first]!.get(lineId)!, amounts[second]!.get(lineId)!))
    if (cheapest === undefined) {
      return null
    }
    total += amounts[cheapest]!.get(lineId)!
    suppliers.set(lineId, quoted[cheapest]!.supplierId)
  }
  return { total, suppliers }
}

function compare(first: bigint, second: bigint): number {
  if (first === second) {
    return 0
  }
  return first < second ? -1 : 1
}
