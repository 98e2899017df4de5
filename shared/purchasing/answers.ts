import type { StockStatus } from '~~/core/stock'
import type { ReturnExpects } from './returns'

export interface InvoiceRow {
  id: number
  kind: 'invoice' | 'credit note'
  number: string
  supplier: string
  invoicedOn: string
  amount: string
  delta: string
  charges: readonly { readonly name: string; readonly by: string; readonly amount: string }[]
  cancelled: boolean
}

/** Goods that one receipt brought, and what they cost by order and invoices. */
export interface ReceivedGoods {
  readonly moveId: number
  readonly lineId: number
  readonly orderId: number
  readonly order: string
  readonly supplier: string
  readonly itemId: number
  readonly code: string
  readonly name: string
  readonly symbol: string
  readonly decimals: number
  readonly siteId: number
  /** In the stock unit. */
  readonly quantity: string
  readonly day: string
  readonly packingList: string
  /** Minor units of the company’s currency. */
  readonly value: string
}

/** Goods that charges fall on, and what of them, in minor units of the company’s currency. */
export interface ChargedGoods extends ReceivedGoods {
  readonly charged: string
}

/** What went back to a supplier. `expected` and `amount` in minor units of the company’s currency. */
export interface ReturnRow {
  readonly id: number
  readonly number: string
  readonly postingId: number
  readonly returnedOn: string
  readonly lineId: number
  readonly code: string
  readonly symbol: string
  readonly quantity: string
  readonly reason: string
  readonly reference: string
  readonly expects: ReturnExpects
  readonly expected: string | null
  readonly isReversed: boolean
  readonly settled: {
    readonly id: number
    readonly kind: 'credit note' | 'replacement' | 'not invoiced'
    readonly number: string
    readonly on: string
    readonly amount: string | null
  } | null
}

/** A line of an order of which something came, and where its item lies. Quantities in the stock unit. */
export interface ReturnableLine {
  readonly lineId: number
  readonly itemId: number
  readonly code: string
  readonly name: string
  readonly symbol: string
  readonly quantity: string
  readonly places: readonly {
    readonly binId: number
    readonly bin: string
    readonly lotId: number | null
    readonly lot: string
    readonly pieceId: number | null
    readonly piece: string
    readonly status: StockStatus
    readonly quantity: string
  }[]
}

/**
 * What is odd about a line of a purchase order by the supplier's terms; `line`: its place. `right`: what they would
 * have it, `text` as a button says it.
 */
export interface TermsConcern {
  readonly line: number
  readonly field: 'itemId' | 'quantity' | 'dueOn'
  readonly detail: string
  readonly right:
    | { readonly quantity: string; readonly unit: string; readonly text: string }
    | { readonly dueOn: string; readonly text: string }
    | null
}

/** A letter that went out with an order. */
export interface OrderLetter {
  readonly id: number
  readonly sentOn: string
  readonly to: string
  readonly subject: string
  readonly state: 'kept' | 'waiting' | 'sent' | 'failed'
  readonly problem: string
}

/** What a supplier's answer says of the lines of an order that it knows. */
/** What a supplier's invoice asks for, read from a file: amounts in the order's currency, without tax. */
export interface ReadInvoice {
  readonly number: string
  readonly invoicedOn: string | null
  readonly lines: readonly {
    readonly lineId: number
    readonly quantity: string
    readonly unit: string
    readonly amount: string
  }[]
  /** Charges, and allowances below nought. */
  readonly charges: readonly { readonly name: string; readonly amount: string }[]
  /** What does not fit, in words. */
  readonly concerns: readonly string[]
}
export interface SupplierAnswer {
  readonly reference: string
  readonly lines: readonly {
    readonly lineId: number
    readonly quantity: string
    readonly price: string
    readonly dueOn: string
  }[]
  /** What of the answer is about no line of the order. */
  readonly unknown: readonly string[]
}
