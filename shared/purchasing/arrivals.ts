/** What of one purchase order or transfer is to arrive on a day. Quantities in the stock unit, the day in ISO 8601. */
export interface Arrival {
  readonly document: string
  readonly day: string
  readonly number: string
  /** The supplier; of a transfer its two sites. */
  readonly from: string
  readonly link: string
  readonly lines: readonly { readonly code: string; readonly quantity: string; readonly symbol: string }[]
}
