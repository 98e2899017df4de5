/** How far a purchase order is, in the order in which that goes on. */
export const PURCHASE_STATES = [
  'draft',
  'sent',
  'confirmed',
  'received in part',
  'received',
  'closed short',
  'cancelled',
] as const
export type PurchaseState = (typeof PURCHASE_STATES)[number]
