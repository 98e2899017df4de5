/** Why something wants buying. */
export type NeedKind = 'planned' | 'low stock' | 'noted' | 'for an order'

/** What one supplier asks for what is wanted. Quantity and price are for `unit`. */
export interface OfferRow {
  readonly supplierId: number
  readonly supplier: string
  readonly unit: string
  readonly symbol: string
  /** What is wanted of it, before the minimum and whole steps; and what has to be bought. */
  readonly wanted: string
  readonly quantity: string
  readonly minimum: string
  readonly multiple: string
  /** In the supplier's currency, null for the company's own. */
  readonly price: string
  readonly currency: string | null
  /** In minor units of the company's currency; null where no rate is known. */
  readonly total: string | null
  readonly leadDays: number
  readonly arrivesOn: string
  /** Lines of a year that were due, and those that came on time and in full. */
  readonly lines: number
  readonly onTime: number
  /** How much more reaches the next price, and what all of it then costs less (below nought: more). */
  readonly next: { readonly more: string; readonly price: string; readonly saves: string | null } | null
}

/** Something that wants buying. Quantity in the stock unit. */
export interface NeedRow {
  readonly id: string
  readonly kind: NeedKind
  readonly itemId: number
  readonly code: string
  readonly name: string
  readonly symbol: string
  readonly quantity: string
  readonly neededOn: string
  readonly orderBy: string
  readonly lateBy: number
  readonly siteId: number | null
  readonly site: string | null
  /** Whom it is for, in words. */
  readonly why: string
  readonly wantId: number | null
  readonly salesOrderId: number | null
  /** The supplier that is proposed; null where nobody sells it. */
  readonly supplierId: number | null
  readonly offers: readonly OfferRow[]
}

/** What an order has to be worth, and the draft that more can be written on. */
export interface BuyingSupplier {
  readonly id: number
  readonly name: string
  readonly currency: string | null
  readonly rate: string | null
  readonly minimumOrder: string | null
  readonly freeFreight: string | null
  readonly drafts: readonly {
    readonly id: number
    readonly number: string
    readonly version: number
    readonly siteId: number | null
    /** What stands on it already, in the supplier's currency. */
    readonly total: string
  }[]
}

export interface BuyingList {
  readonly planId: number | null
  readonly needs: readonly NeedRow[]
  readonly suppliers: readonly BuyingSupplier[]
}
