/**
 * A snapshot to plan on. Quantities are whole finest steps of each node's item; dates are year-month-day.
 * The same shape is read from a file by `npm run plan`.
 */
export interface PlanInput {
  readonly start: string
  readonly end: string
  readonly calendars: Readonly<
    Record<string, { readonly weekdays: readonly boolean[]; readonly closed: readonly string[] }>
  >
  readonly nodes: readonly PlanNode[]
  readonly demands: readonly Demand[]
  readonly supplies: readonly Supply[]
  /** Planned orders that somebody has fixed: they stay as they are, and what they need is planned. */
  readonly fixed?: readonly FixedOrder[]
  /** Whether open supply may be pulled in to a shortage before it; else it counts on its day. Default: yes. */
  readonly pullIn?: boolean
  /** Whether safety stock is kept. Default: yes. */
  readonly keepSafety?: boolean
  /** Open supply that is needed more calendar days later than this gets the advice to push it out. Default: 7. */
  readonly pushOutDays?: number
  /**
   * Items whose lead time with that of what they are made from is longer, in working days, are reported. Default: the
   * days of the horizon.
   */
  readonly longestLeadDays?: number
}

/**
 * An item at a site, or of all sites: what is there, what it is kept at, where more comes from. Quantities in finest
 * steps.
 */
export interface PlanNode {
  readonly id: string
  readonly onHand: readonly {
    readonly lot: string | null
    readonly quantity: number
    readonly expiresOn: string | null
  }[]
  readonly safety: number
  /** Safety stock of some days, instead of `safety`; a later entry goes before an earlier one. */
  readonly seasons?: readonly { readonly first: string; readonly last: string; readonly safety: number }[]
  /** How much is ordered at once. Default: exactly what is missing. */
  readonly rule?: LotRule
  /** Calendar days within which a later open supply is pulled in to a shortage. Default: the lead time. */
  readonly pullInDays?: number
  readonly source: Source
  /** What a step is worth, in minor units of the company's currency; for what a plan ties up. */
  readonly worth?: number
  /** Where else it could come from, by rank. */
  readonly others?: readonly Source[]
}

/**
 * Costs are in one unit of money throughout: `orderCost` an order, `holdingCost` a step a year (economic) or a step a
 * day (least cost).
 */
export type LotRule =
  | { readonly kind: 'exact' }
  | { readonly kind: 'fixed'; readonly quantity: number }
  | { readonly kind: 'cover'; readonly days: number }
  | { readonly kind: 'up to'; readonly reorderPoint: number; readonly maximum: number }
  | { readonly kind: 'economic'; readonly orderCost: number; readonly holdingCost: number }
  | {
      readonly kind: 'least cost'
      readonly orderCost: number
      readonly holdingCost: number
      readonly tiers?: readonly PriceStep[]
    }

/**
 * From this many steps an order on, every step of it costs so much; what is bought, in minor units of the company's
 * currency.
 */
export interface PriceStep {
  readonly from: number
  readonly price: number
}

/** An order multiple in finest steps, exact: the supplier's unit need not fall on a step. */
export interface Multiple {
  readonly numerator: string
  readonly denominator: string
}

/**
 * How long it takes, in working days of the calendar, and how an order may be sized, in this order: minimum, multiple,
 * maximum.
 */
interface Ordered {
  readonly leadDays: number
  readonly calendar: string | null
  readonly minimum?: number
  readonly multiple?: Multiple
  /** More than this is split into several orders. */
  readonly maximum?: number
}

/**
 * `isPassThrough`: it is never an order of its own; what is not on hand is needed of its components on the same day (a
 * phantom).
 */
export type Source =
  | (Ordered & { readonly kind: 'buy'; readonly supplier: string; readonly prices?: readonly PriceStep[] })
  | (Ordered & {
      readonly kind: 'make'
      readonly structure: string
      readonly components: readonly Component[]
      readonly byProducts?: readonly Component[]
      readonly isPassThrough?: boolean
    })
  | (Ordered & {
      readonly kind: 'break down'
      readonly recipe: string
      readonly from: string
      readonly take: number
      readonly outputs: readonly { readonly node: string; readonly quantity: number }[]
    })
  | (Ordered & { readonly kind: 'move'; readonly from: string; readonly route?: string })
  | { readonly kind: 'none'; readonly reason: NoSource }

/** How a node comes where a supplier is named: from them, where they are known to have it; else as it usually does. */
export const wayFrom = (
  { source, others }: Pick<PlanNode, 'source' | 'others'>,
  supplier: string | undefined,
): Source =>
  supplier === undefined
    ? source
    : ([source, ...(others ?? [])].find((option) => option.kind === 'buy' && option.supplier === supplier) ?? source)

/** Why there is no way to get a node. */
export type NoSource = 'no source' | 'no BOM' | 'no conversion' | 'retired' | 'loop'

/**
 * Steps of the component per step of the parent (yield and scrap counted in) and per build, over one denominator;
 * needed `offsetDays` working days after the release.
 */
export interface Component {
  readonly node: string
  readonly numerator: string
  readonly fixedNumerator: string
  readonly denominator: string
  readonly offsetDays?: number
}

/** One open demand of a node. Quantity in finest steps, day in ISO 8601. */
export interface Demand {
  readonly id: string
  readonly node: string
  readonly day: string
  readonly quantity: number
  readonly kind: 'sales order' | 'forecast' | 'build' | 'break-down' | 'transfer' | 'what-if'
  /** What the demand belongs to, as a person would name it. */
  readonly label: string
  readonly priority: number
  /**
   * The open supplies that it is needed for, where it is of a build, a break-down or a transfer: while it waits, they
   * do.
   */
  readonly for?: readonly string[]
}

/** One open supply of a node. Quantity in finest steps, day in ISO 8601. */
export interface Supply {
  readonly id: string
  readonly node: string
  readonly day: string
  readonly quantity: number
  readonly kind: 'purchase order' | 'build' | 'break-down' | 'transfer'
  readonly label: string
  /** The day on which it can come at the soonest: it is never pulled in before. Default: any day. */
  readonly earliest?: string
}

/** `supplier`: whom it is to be bought from, where it is not the usual one; its lead time is theirs. */
export interface FixedOrder {
  readonly id: string
  readonly node: string
  readonly quantity: number
  readonly due: string
  readonly release: string
  readonly supplier?: string
}
