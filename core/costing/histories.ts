import type { Ratio } from '../units/exact'
import type { Amounts, PoolState } from './cost-pool'
import type { Minor } from './moving-average'
import type { JobHistory } from './share-work'
import type { CostMove } from './value-moves'

/** A move of the ledger with what it is said to be worth until now. */
export interface RecordedMove extends CostMove {
  readonly amounts: Amounts
}

/**
 * A new standard cost of one stock unit, from the morning of a day on, and what the pool's stock gained by it until
 * now.
 */
export interface StandardChange {
  readonly posting: number
  readonly day: string
  readonly unit: Ratio
  readonly gained: Minor
}

/** All that ever went through a pool, in any order; or, in place of it, how the pool stands before the fresh moves. */
export interface PoolHistory {
  readonly start: PoolState
  readonly moves: readonly RecordedMove[]
  readonly standards: readonly StandardChange[]
}

/** All that was recorded of a job. */
export interface RecordedJob extends JobHistory {
  readonly moves: readonly RecordedMove[]
}

/** What a revaluation asks its caller to read: the history of a pool, or of a job. */
export type HistoryRequest =
  { readonly kind: 'pool'; readonly key: string } | { readonly kind: 'job'; readonly key: string }

/** What a revaluation comes to: everything that is worth something else than was said. Minor units. */
export interface Revaluation {
  /** Moves that are worth something else than they were said to be, with what they are worth now; the new ones too. */
  readonly moves: ReadonlyMap<
    string,
    { readonly now: Amounts; readonly before: Amounts | null; readonly move: CostMove }
  >
  readonly standards: readonly {
    readonly pool: string
    readonly posting: number
    readonly day: string
    readonly now: Minor
    readonly before: Minor
  }[]
  /** What jobs that were closed have written off, where it is something else now. */
  readonly closings: readonly {
    readonly posting: number
    readonly day: string
    readonly now: Minor
    readonly before: Minor
  }[]
  /** The pools that were worked through, as they stand after all. */
  readonly pools: ReadonlyMap<string, PoolState>
}

/** More leaves a pool on a day than it held then. */
export interface LackedThen {
  readonly code: 'lacked-then'
  readonly pool: string
  readonly day: string
  readonly move: string
  readonly wanted: Ratio
  readonly there: Ratio
}
