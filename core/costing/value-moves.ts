import type { Ratio } from '../units/exact'
import { CostPool, type Amounts } from './cost-pool'
import type { Minor } from './moving-average'

/**
 * How a move gets its value: by the method of where it leaves, a stated amount, the average of where it enters, a share
 * of all that is in work or a part of it, or what it takes back.
 */
export type Basis = 'method' | 'stated' | 'average' | 'share' | 'part' | 'back'

/** A move as money sees it. A pool is an item at a site, or a transfer line on its way; null is outside. */
export interface CostMove {
  readonly id: string
  readonly day: string
  /** Postings of a day count in the order in which they were recorded. */
  readonly posting: number
  readonly line: number
  readonly from: string | null
  readonly to: string | null
  readonly quantity: Ratio
  readonly basis: Basis
  /** What the other end gives, where it is stated; with invoices that came later. */
  readonly stated: Minor
  readonly weight: Ratio
  /** The move that this one takes back. */
  readonly of: string | null
  /** Whether it brings goods at a purchase price, or at what making them cost. */
  readonly isPurchasePrice: boolean
  /** The job that it feeds, or comes out of; null where it has to do with none. */
  readonly job: string | null
}

/** What the other end of a move gives, or gets: the goods' value and the variance beside it. */
export const otherEnd = (amounts: Amounts): Minor => amounts.value + amounts.variance

/** The order in which moves count: day, posting, what leaves before what enters, line. */
export function inOrder(
  a: Pick<CostMove, 'day' | 'posting' | 'from' | 'line'>,
  b: Pick<CostMove, 'day' | 'posting' | 'from' | 'line'>,
): number {
  if (a.day !== b.day) {
    return a.day < b.day ? -1 : 1
  }
  return a.posting - b.posting || Number(a.from === null) - Number(b.from === null) || a.line - b.line
}

export interface ValueContext {
  readonly pool: (key: string) => CostPool
  /** The amounts of another move, as they stand now. */
  readonly amountsOf: (id: string) => Amounts
  /** What its job gives to this move, where it shares. */
  readonly shareOf: (move: CostMove) => Minor
}

/**
 * What one move does to money, and to the pools at its ends.
 *
 * Unchecked: what leaves is there. A move within one pool changes nothing and is told at what it is worth.
 */
export function valueMove(move: CostMove, context: ValueContext): Amounts {
  if (move.from !== null && move.from === move.to) {
    return { value: context.pool(move.from).worthOf(move.quantity), variance: 0n, restated: 0n }
  }
  const out = leaving(move, context)
  return move.to === null ? out! : entering(move, out, context)
}

/** The first half of a move: out of its pool; null where it comes from outside. */
export function leaving(move: CostMove, context: ValueContext): Amounts | null {
  if (move.from === null) {
    return null
  }
  const from = context.pool(move.from)
  if (move.basis !== 'back') {
    return from.leave(move)
  }
  // Outside gets back all that it gave; between two pools what goes back is what had entered.
  const original = context.amountsOf(move.of!)
  return from.takeBack({
    id: move.id,
    of: move.of!,
    quantity: move.quantity,
    given: move.to === null ? otherEnd(original) : original.value,
  })
}

/** The second half: into its pool, with what the first half took out. */
export function entering(move: CostMove, out: Amounts | null, context: ValueContext): Amounts {
  const target = context.pool(move.to!)
  let given
  if (move.basis === 'back') {
    given = otherEnd(context.amountsOf(move.of!))
  } else if (out !== null) {
    given = out.value
  } else {
    given = givenTo(move, target, context)
  }
  const entered =
    move.basis === 'back'
      ? target.putBack({ id: move.id, of: move.of!, on: move.day, quantity: move.quantity, given })
      : target.enter({
          id: move.id,
          on: move.day,
          quantity: move.quantity,
          given,
          isPurchasePrice: move.isPurchasePrice,
        })
  return {
    value: entered.value,
    variance: (out?.value ?? given) - entered.value,
    restated: entered.restated + (out?.restated ?? 0n),
  }
}

function givenTo(move: CostMove, pool: CostPool, context: ValueContext): Minor {
  if (move.basis === 'stated') {
    return move.stated
  }
  return move.basis === 'share' || move.basis === 'part' ? context.shareOf(move) : pool.worthOf(move.quantity)
}
