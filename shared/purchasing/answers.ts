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
