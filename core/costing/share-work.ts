import { ONE, ZERO } from '../units/exact'
import type { Amounts } from './cost-pool'
import type { Minor } from './moving-average'
import { shareAmount } from '../sharing'
import { otherEnd, type CostMove } from './value-moves'

/** The end of a job: what is still in work then is written off. */
export interface Closing {
  readonly posting: number
  readonly day: string
  readonly written: Minor
}

/**
 * What went into a job and came out of it, in any order: its moves, the work that each posting added, and where it was
 * closed with nothing coming out any more.
 */
export interface JobHistory {
  readonly works: readonly { readonly posting: number; readonly day: string; readonly work: Minor }[]
  readonly moves: readonly CostMove[]
  readonly closings: readonly Closing[]
}

export interface SharedWork {
  /** What each move that comes out of the job is given, by its id. */
  readonly shares: ReadonlyMap<string, Minor>
  /** What each closing writes off, by its posting. */
  readonly written: ReadonlyMap<number, Minor>
  /** What is in work after all. */
  readonly left: Minor
}

/**
 * Gives what went into a job to what comes out of it, posting by posting.
 *
 * What comes out by `share` takes all that is in work, by weight; what comes out by `part` takes its weight as a
 * fraction of it, and the rest stays for what comes later. So a build in parts gives each part what it cost until then,
 * and the last one what is left.
 * Shape: `moves` with `to` null go into work, the others come out; `back` moves return what they took.
 *
 * @example 100 put in, half of the goods come out: 50. Then 20 more put in, the rest comes out: 70.
 */
export function shareWork(job: JobHistory, amountsOf: (id: string) => Amounts): SharedWork {
  const shares = new Map<string, Minor>()
  const written = new Map<number, Minor>()
  let inWork = 0n
  for (const posting of postingsOf(job)) {
    inWork += posting.work
    for (const move of posting.moves) {
      if (move.to === null) {
        inWork += otherEnd(amountsOf(move.id))
      } else if (move.basis === 'back') {
        inWork -= otherEnd(amountsOf(move.id))
      }
    }
    const coming = posting.moves.filter((move) => move.to !== null && (move.basis === 'share' || move.basis === 'part'))
    if (coming.length > 0) {
      const weights = coming.map((move) => move.weight)
      const rest = coming.every((move) => move.basis === 'part')
        ? weights.reduce((sum, weight) => sum.sub(weight), ONE)
        : ZERO
      let given
      if (rest.compare(ZERO) > 0) {
        given = shareAmount(inWork, [...weights, rest])
      } else if (weights.some((weight) => weight.compare(ZERO) > 0)) {
        given = shareAmount(inWork, weights)
      } else {
        given = weights.map(() => 0n)
      }
      for (const [index, move] of coming.entries()) {
        shares.set(move.id, given[index]!)
        inWork -= given[index]!
      }
    }
    if (posting.closing) {
      written.set(posting.posting, inWork)
      inWork = 0n
    }
  }
  return { shares, written, left: inWork }
}

interface Posting {
  readonly posting: number
  readonly day: string
  work: Minor
  closing: boolean
  readonly moves: CostMove[]
}

function postingsOf(job: JobHistory): Posting[] {
  const found = new Map<number, Posting>()
  const postingOf = (posting: number, day: string): Posting =>
    found.get(posting) ?? found.set(posting, { posting, day, work: 0n, closing: false, moves: [] }).get(posting)!
  for (const { posting, day, work } of job.works) {
    postingOf(posting, day).work += work
  }
  for (const move of job.moves) {
    postingOf(move.posting, move.day).moves.push(move)
  }
  for (const { posting, day } of job.closings) {
    postingOf(posting, day).closing = true
  }
  return [...found.values()].sort((a, b) => {
    if (a.day === b.day) {
      return a.posting - b.posting
    }
    if (a.day < b.day) {
      return -1
    }
    return 1
  })
}
