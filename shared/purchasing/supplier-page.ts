/** What a supplier delivers: what it cost last, by the order, and a year before that. */
export interface SuppliedItem {
  readonly id: number
  readonly code: string
  readonly name: string
  readonly symbol: string
  /** Prices are for one of this unit, in the supplier’s currency. */
  readonly unit: string
  readonly lastOn: string
  readonly lastPrice: string
  /** The last price of a year ago or longer; null where there is none. */
  readonly priceBefore: string | null
  /** What came within the last twelve months, in the stock unit. */
  readonly received: string
  /** What was paid for it, order by order, oldest first. */
  readonly prices: readonly { readonly on: string; readonly price: string }[]
}

export interface SupplierPage {
  readonly id: number
  readonly code: string
  readonly name: string
  readonly contact: string
  readonly email: string
  readonly phone: string
  readonly address: string
  readonly currency: string | null
  readonly paymentTerms: string
  readonly note: string
  readonly retired: boolean
  /** Lines that were due within the last twelve months: those that came whole, and those that did by the day asked for. */
  readonly lines: number
  readonly inFull: number
  readonly onTime: number
  /** Inspections of their goods that were decided within the last twelve months, and those that kept goods out. */
  readonly inspected: number
  readonly rejected: number
  /** Received and not invoiced, in minor units of the company’s currency. */
  readonly notInvoiced: string
  /** What they are expected to give for goods that went back, likewise. */
  readonly creditsExpected: string
  readonly items: readonly SuppliedItem[]
}
