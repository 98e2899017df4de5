/**
 * A snapshot to plan on. Quantities are whole finest steps of each node's item; dates are year-month-day.
 * The same shape is read from a file by `npm run plan`.
 */
export interface PlanInput {
  readonly start: string
  readonly end: string
  readonly calendars: Readonly<Record<string, { readonly weekdays: readonly boolean[], readonly closed: readonly string[] }>>
  readonly nodes: readonly PlanNode[]
  readonly demands: readonly Demand[]
  readonly supplies: readonly Supply[]
}

export interface PlanNode {
  readonly id: string
  readonly onHand: readonly { readonly lot: string | null, readonly quantity: number, readonly expiresOn: string | null }[]
  readonly safety: number
  readonly source: Source
}

/** An order multiple in finest steps, exact: the supplier's unit need not fall on a step. */
export interface Multiple { readonly numerator: string, readonly denominator: string }

interface Timed { readonly leadDays: number, readonly calendar: string | null }

export type Source =
  | Timed & { readonly kind: 'buy', readonly supplier: string, readonly minimum: number, readonly multiple: Multiple }
  | Timed & { readonly kind: 'make', readonly structure: string, readonly components: readonly Component[] }
  | Timed & { readonly kind: 'break down', readonly recipe: string, readonly from: string, readonly take: number, readonly outputs: readonly { readonly node: string, readonly quantity: number }[] }
  | { readonly kind: 'none', readonly reason: 'no source' | 'no BOM' | 'no conversion' | 'retired' }

/** Steps of the component per step of the parent (yield and scrap counted in) and per build, over one denominator. */
export interface Component {
  readonly node: string
  readonly numerator: string
  readonly fixedNumerator: string
  readonly denominator: string
}

export interface Demand {
  readonly id: string
  readonly node: string
  readonly day: string
  readonly quantity: number
  readonly kind: 'sales order' | 'forecast' | 'build' | 'break-down'
  /** What the demand belongs to, as a person would name it. */
  readonly label: string
  readonly priority: number
}

export interface Supply {
  readonly id: string
  readonly node: string
  readonly day: string
  readonly quantity: number
  readonly kind: 'purchase order' | 'build' | 'break-down' | 'transfer'
  readonly label: string
}
