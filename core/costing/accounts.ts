export type PlaceKind = 'bin' | 'transit' | 'supplier' | 'customer' | 'workshop' | 'correction' | 'opening' | 'returned'

export const ACCOUNTS = [
  'stock',
  'goods received not invoiced',
  'accounts payable',
  'returns to suppliers',
  'cost of sales',
  'work in progress',
  'work absorbed',
  'corrections',
  'opening',
  'variance',
] as const
/** A class of the journal in which value stands. */
export type AccountClass = (typeof ACCOUNTS)[number]

/** The account that a move's value enters when goods arrive at, or leaves when they leave, a kind of place. */
export const accountOf: Readonly<Record<PlaceKind, AccountClass>> = {
  bin: 'stock',
  transit: 'stock',
  supplier: 'goods received not invoiced',
  customer: 'cost of sales',
  workshop: 'work in progress',
  correction: 'corrections',
  opening: 'opening',
  returned: 'returns to suppliers',
}
