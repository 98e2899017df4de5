import type { Stored } from '../catalogue/definitions'
import type { CostBasis } from './words'

// What the questions about structures are answered with. Amounts and money are text; money in major units.

export interface MoneyParts {
  readonly material: string
  readonly work: string
  readonly other: string
  readonly total: string
}

export interface ExplosionRow {
  readonly itemId: number
  readonly code: string
  readonly name: string
  readonly source: string
  readonly level: number
  readonly quantity: string
  readonly symbol: string
  readonly decimals: number
  readonly free: string
  readonly isShort: boolean
  readonly cost: MoneyParts
  readonly unitCost: string
}

export interface Explosion {
  readonly itemId: number
  readonly code: string
  readonly name: string
  readonly quantity: string
  readonly symbol: string
  readonly how: string
  readonly basis: CostBasis
  readonly cost: MoneyParts
  readonly unpriced: readonly string[]
  readonly rows: readonly ExplosionRow[]
}

export interface WhereUsedRow {
  itemId: number
  code: string
  name: string
  level: number
  quantity: string
  symbol: string
  parentSymbol: string
}

export interface BuildableUse {
  readonly itemId: number
  readonly code: string
  readonly name: string
  readonly symbol: string
  readonly need: string
  readonly fromStock: string
  readonly made: string
  readonly missing: string
  readonly free: string
  readonly comesFrom: string | null
}

export interface BuildableAnswer {
  readonly sets: string
  readonly wanted: readonly {
    readonly itemId: number
    readonly code: string
    readonly symbol: string
    readonly quantity: string
    readonly can: string
    readonly onHand: string
  }[]
  readonly uses: readonly BuildableUse[]
  readonly next: readonly BuildableUse[]
}

export interface ItemFacts {
  readonly lead: readonly {
    itemId: number
    code: string
    name: string
    leadDays: number
    begins: number
    ends: number
  }[]
  readonly mass: { readonly known: string; readonly unknown: readonly string[] }
}

export type BillState = 'draft' | 'current' | 'to come' | 'past'

export interface Revision {
  readonly id: number
  readonly revision: number
  readonly state: BillState
  readonly fromOn: string | null
  readonly version: number
  readonly lines: number
  readonly note: string
  readonly builds: number
}

export interface BillRow {
  readonly id: number
  readonly code: string
  readonly name: string
  readonly source: string
  readonly billId: number | null
  readonly revision: number | null
  readonly state: BillState | null
  readonly fromOn: string | null
  readonly lines: number
  readonly drafts: number
  readonly draftId: number | null
  readonly draftRevision: number | null
  readonly symbol: string
  readonly breakDowns: number
}

export interface ReplaceRow {
  readonly billId: number
  readonly itemId: number
  readonly code: string
  readonly name: string
  readonly revision: number
  readonly state: BillState
  readonly before: string
  readonly after: string
  readonly unit: string
  readonly afterUnit: string
}

export interface ComesFrom {
  readonly id: number
  readonly itemId: number
  readonly code: string
  readonly name: string
  readonly take: string
  readonly unit: string
  readonly gives: string
  readonly givesUnit: string
  readonly onArrival: boolean
}

export interface SaidLine {
  readonly quantity: string
  readonly unit: string
  readonly basis: string
  readonly scrapPercent: string
  readonly offsetDays: number
  readonly phantom: boolean
  readonly note: string
  readonly substitutes: number
}
/** Two revisions side by side; `difference`: what one costs more by the later. */
export interface Comparison {
  readonly before: {
    readonly id: number
    readonly revision: number
    readonly fromOn: string | null
    readonly cost: MoneyParts
  }
  readonly after: {
    readonly id: number
    readonly revision: number
    readonly fromOn: string | null
    readonly cost: MoneyParts
  }
  readonly difference: string
  readonly head: readonly { readonly name: string; readonly before: string; readonly after: string }[]
  readonly lines: readonly {
    readonly kind: 'added' | 'removed' | 'changed' | 'same'
    readonly itemId: number
    readonly code: string
    readonly name: string
    readonly fields: readonly string[]
    readonly before: SaidLine | null
    readonly after: SaidLine | null
    readonly costBefore: string | null
    readonly costAfter: string | null
  }[]
}
export interface Recipes {
  readonly gives: readonly Stored<'break-downs'>[]
  readonly items: readonly { readonly id: number; readonly code: string; readonly name: string }[]
  readonly comesFrom: readonly ComesFrom[]
}
