export { matchInvoice, type InvoicePart, type InvoicedReceipt } from './match-invoice'
export { spreadCharge, SPREADS, type ChargedReceipt, type Spread, type SpreadFault } from './landed-cost'
