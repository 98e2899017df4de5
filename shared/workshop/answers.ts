import type { OpenedInspection } from '../inspection/answers'
import type { BuildState } from './requests'

/** A place that goods for a build lie in, before → after. */
export interface Take {
  readonly balanceId?: number
  readonly bin: string
  readonly lot: string | null
  readonly piece: string | null
  readonly expiresOn: string | null
  readonly before: string
  readonly quantity: string
  readonly after: string
}

export interface NeededComponent {
  readonly itemId: number
  readonly code: string
  readonly name: string
  readonly symbol: string
  readonly need: string
  readonly missing: string
  readonly takes: readonly Take[]
}

/**
 * Goods that may be chosen for a line, in the order in which they are taken: what is free of them to it, and what of
 * that is set aside for it. Closed and expired goods are taken only where they are chosen.
 */
export interface Choice {
  readonly onHand: string
  readonly byOrder: boolean
  readonly balanceId: number
  readonly bin: string
  readonly lot: string | null
  readonly piece: string | null
  readonly expiresOn: string | null
  readonly free: string
  readonly own: string
}

/** What can be done about a component that is short. */
export type Remedy =
  | {
      readonly kind: 'substitute'
      readonly itemId: number
      readonly code: string
      readonly name: string
      readonly rank: number
      readonly per: string
      readonly free: string
      readonly symbol: string
      readonly covers: string
    }
  | {
      readonly kind: 'break down'
      readonly recipeId: number
      readonly itemId: number
      readonly code: string
      readonly times: number
      readonly take: string
      readonly symbol: string
      readonly there: boolean
    }
  | { readonly kind: 'build'; readonly quantity: string }
  | { readonly kind: 'transfer'; readonly siteId: number; readonly site: string; readonly free: string }
  | {
      readonly kind: 'buy'
      readonly itemId: number
      readonly code: string
      readonly name: string
      /** As it is typed: with its unit. */ readonly quantity: string
      readonly supplierId: number
      readonly supplier: string
      readonly days: number
    }

export interface BuildLineAnswer extends NeededComponent {
  readonly stockUnit: string
  readonly finestStep: string
  /** Barcodes and other codes by which it is known. */
  readonly codes: readonly string[]
  readonly id: number
  readonly forItemId: number | null
  readonly forCode: string | null
  readonly tracking: string
  readonly byHand: boolean
  /** The unit in which the bill says it, and the need in it. */
  readonly unit: string
  readonly unitSymbol: string
  readonly inUnit: string
  /** How much of the need is still open, and what has gone into work ahead of what it is for. */
  readonly rest: string
  readonly used: string
  readonly scrapped: string
  readonly allocated: string
  /** What the rest of the build uses by the bill. */
  readonly next: string
  readonly choices: readonly Choice[]
  readonly remedies: readonly Remedy[]
}

export interface Differences {
  readonly bill: string
  readonly usage: string
  readonly price: string
  readonly yield: string
  readonly actual: string
}

export interface CostLine extends Differences {
  readonly lineId: number | null
  readonly code: string
  readonly name: string
  readonly symbol: string
  readonly standard: string
  readonly used: string
}

export interface BuildCost {
  readonly lines: readonly CostLine[]
  readonly total: Differences
  readonly inWork: string
  readonly minutes: string
  readonly billMinutes: string
}

export interface PostingAnswer {
  readonly id: number
  readonly label: string
  readonly effectiveOn: string
  readonly who: string
  readonly reversed: boolean
  readonly reversal: boolean
  readonly isReversible: boolean
  readonly value: string
  readonly work: string
}

export interface ByProductAnswer {
  readonly itemId: number
  readonly code: string
  readonly name: string
  readonly unit: string
  readonly symbol: string
  readonly quantity: string
  readonly tracking: string
}

/** Goods that came out, as they are recorded by now. */
export interface Outcome {
  readonly itemId: number
  readonly code: string
  readonly lotId: number | null
  readonly lot: string | null
  readonly pieceId: number | null
  readonly piece: string | null
  readonly quantity: string
  readonly symbol: string
}

export interface BuildAnswer {
  readonly id: number
  readonly number: string
  readonly itemId: number
  readonly bomId: number
  readonly revision: number
  readonly code: string
  readonly name: string
  readonly source: string
  readonly tracking: string
  readonly shelfLifeDays: number | null
  readonly unit: string
  readonly symbol: string
  readonly quantity: string
  readonly made: string
  readonly left: string
  readonly releaseOn: string
  readonly dueOn: string
  readonly startedOn: string | null
  readonly doneOn: string | null
  readonly status: BuildState
  readonly site: string
  readonly siteId: number
  readonly note: string
  readonly version: number
  readonly forNumber: string | null
  readonly forLink: string | null
  readonly onHand: string
  readonly after: string
  readonly work: string
  readonly minutesLeft: string
  readonly components: readonly BuildLineAnswer[]
  readonly byProducts: readonly ByProductAnswer[]
  readonly steps: readonly { readonly text: string; readonly pictureId: number | null }[]
  readonly cost: BuildCost
  readonly outputs: readonly Outcome[]
  readonly postings: readonly PostingAnswer[]
  readonly withSubAssemblies: readonly {
    readonly id: number
    readonly number: string
    readonly code: string
    readonly quantity: string
    readonly status: string
  }[]
}

export interface JobRow {
  readonly id: string
  readonly kind: 'build' | 'break-down'
  readonly jobId: number
  readonly number: string
  readonly itemId: number
  readonly code: string
  readonly name: string
  readonly source: string
  readonly quantity: string
  readonly made: string | null
  readonly symbol: string
  readonly releaseOn: string | null
  readonly dueOn: string
  readonly status: string
  readonly shortOf: string | null
  readonly forWhat: string | null
}

export interface KitToUnpack {
  readonly itemId: number
  readonly code: string
  readonly name: string
  readonly unit: string
  readonly symbol: string
  readonly choices: readonly {
    readonly balanceId: number
    readonly binId: number
    readonly bin: string
    readonly lot: string | null
    readonly free: string
  }[]
  readonly parts: readonly {
    readonly itemId: number
    readonly code: string
    readonly name: string
    readonly unit: string
    readonly symbol: string
    readonly each: string
  }[]
}

export interface Recorded {
  readonly postingId: number | null
  readonly lot: string | null
  readonly value: string
  readonly status: string
  readonly writtenOff: string
  readonly version: number
  readonly withSubAssemblies: readonly {
    readonly id: number
    readonly number: string
    readonly code: string
    readonly quantity: string
  }[]
  /** What was put on hold until it is inspected. */
  readonly inspections: readonly OpenedInspection[]
}
