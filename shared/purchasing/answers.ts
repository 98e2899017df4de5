export interface InvoiceRow {
  id: number
  number: string
  invoicedOn: string
  amount: string
  delta: string
  cancelled: boolean
}
