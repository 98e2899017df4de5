import type { Limit } from '../compile'
import type { LotRule, NoSource } from '../input'

/** What one plan says. Quantities in whole finest steps of each node's item. */
export interface PlanOutput {
  readonly nodes: readonly NodePlan[]
  readonly orders: readonly PlannedOrder[]
  readonly pegs: readonly Peg[]
  readonly messages: readonly PlanMessage[]
}

/** The six standard lines of one node, on the days on which anything happens. */
export interface NodePlan {
  readonly id: string
  readonly level: number
  readonly onHand: number
  readonly safety: number
  readonly days: readonly PlanDay[]
}

/**
 * The six lines of a node on one day on which something happens, and its balance if nothing new were ordered. Finest
 * steps.
 */
export interface PlanDay {
  readonly day: string
  readonly grossRequirements: number
  readonly scheduledReceipts: number
  readonly netRequirements: number
  readonly plannedReceipts: number
  readonly plannedReleases: number
  readonly projectedAvailable: number
  /** Projected available without any planned order: where it is below zero there is a hole. */
  readonly withoutOrders: number
}

/** An order that a plan proposes, or that a person fixed. Quantities in finest steps, dates in ISO 8601. */
export interface PlannedOrder {
  readonly id: string
  readonly node: string
  readonly kind: 'buy' | 'make' | 'break down' | 'move'
  readonly quantity: number
  readonly due: string
  readonly release: string
  /** Working days by which the release would have had to be before the start; 0 where it is in time. */
  readonly lateBy: number
  /** When it can really be there: start + lead time where late, else the due date. */
  readonly promised: string
  /** Somebody has fixed it: it stays as it is when the plan is computed again. */
  readonly fixed?: true
  /** Whom it is bought from, where that is not the usual one. */
  readonly supplier?: string
  /** It is no order of its own: its components are handed through (a phantom). */
  readonly through?: true
  readonly why: Why
}

/**
 * The numbers behind one planned order, in the order in which they were worked out:
 * safety − (balance before + pulled in + awaited − demand that day) = net requirement, and so on.
 */
export interface Why {
  readonly balanceBefore: number
  /** Open supply that was pulled in to that day; absent where none was. */
  readonly pulledIn?: number
  /**
   * Open supply that comes later and is waited for, as a new order could not be there sooner; absent where there is
   * none.
   */
  readonly awaited?: number
  readonly demandThatDay: number
  readonly safety: number
  readonly netRequirement: number
  readonly rule: LotRule['kind']
  /** What the rule makes of the net requirement, before minimum, multiple and maximum. */
  readonly byRule: number
  /**
   * The quantity or the days of the rule: the fixed or economic quantity, the days covered, the quantity filled up to.
   */
  readonly ruleSize?: number
  readonly minimum: number
  /** In finest steps, rounded for showing; `times` of it were taken. */
  readonly multiple: number
  readonly times: number
  /** Where more than the maximum was wanted: how many orders it was split into. */
  readonly split?: number
  readonly leadDays: number
}

/**
 * `quantity` of a supply that serves a demand. A supply id is an open supply's, a planned order's or `on
 * hand:node:lot`.
 */
export interface Peg {
  readonly supply: string
  readonly demand: string
  readonly quantity: number
}

interface At {
  readonly node: string
  readonly day: string
  readonly quantity: number
}

/** One thing that a plan has to say of a node on a day. Quantities in finest steps. */
export type PlanMessage =
  | (At & { readonly code: 'short' })
  | (At & { readonly code: 'below safety'; readonly safety: number })
  | (At & { readonly code: 'late order'; readonly order: string; readonly lateBy: number; readonly promised: string })
  | (At & { readonly code: 'pull in'; readonly supply: string; readonly from: string })
  /**
   * `quantity` is short from `day` on, until the supply comes; `waiting`: the demands that it serves after their day.
   */
  | (At & {
      readonly code: 'late supply'
      readonly supply: string
      readonly comes: string
      readonly waiting: readonly string[]
    })
  /** Orders of `by` bring it, but lie in a circle with it: a receipt that no order of it takes into account. */
  | (At & { readonly code: 'not netted'; readonly by: string })
  | (At & { readonly code: 'push out'; readonly supply: string; readonly from: string })
  | (At & { readonly code: 'surplus'; readonly supply: string })
  | (At & { readonly code: 'past due'; readonly ref: string })
  | (At & { readonly code: 'will expire'; readonly lot: string | null })
  | (At & { readonly code: 'long lead time'; readonly leadDays: number; readonly longest: number })
  /** Sums beyond 2^53 steps, or a need split into thousands of orders: nothing is planned of it. */
  | (At & { readonly code: 'beyond limit'; readonly limit: Limit })
  | (At & { readonly code: 'loop'; readonly path: readonly string[] })
  | (At & { readonly code: Exclude<NoSource, 'loop'> })
