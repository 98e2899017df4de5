/** A receipt line of which not all is invoiced: amounts in minor units, quantities in the stock unit. */
export interface NotInvoicedRow {
  readonly id: number
  readonly day: string
  readonly orderId: number | null
  readonly order: string | null
  readonly supplier: string | null
  readonly itemId: number
  readonly code: string
  readonly name: string
  readonly symbol: string
  readonly decimals: number
  readonly siteId: number
  readonly siteName: string
  readonly lot: string
  readonly quantity: string
  readonly amount: string
  readonly inStock: string
  readonly inStockAmount: string
  readonly used: string
  readonly usedAmount: string
}
