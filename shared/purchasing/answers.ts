export interface InvoiceRow {
  id: number
  number: string
  invoicedOn: string
  amount: string
  delta: string
  cancelled: boolean
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
