export type PlaceKind = 'bin' | 'supplier' | 'customer' | 'workshop' | 'correction' | 'opening'

export type AccountClass =
  | 'stock' | 'goods received not invoiced' | 'cost of sales' | 'work in progress' | 'work absorbed' | 'corrections' | 'opening' | 'variance'

/** The account that a move's value enters when goods arrive at, or leaves when they leave, a kind of place. */
export const accountOf: Readonly<Record<PlaceKind, AccountClass>> = {
  bin: 'stock',
  supplier: 'goods received not invoiced',
  customer: 'cost of sales',
  workshop: 'work in progress',
  correction: 'corrections',
  opening: 'opening',
}
