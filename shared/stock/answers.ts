export interface OnTheWay {
  lineId: number
  itemId: number
  code: string
  symbol: string
  stockUnit: string
  lotId: number | null
  lot: string | null
  pieceId: number | null
  piece: string | null
  quantity: string
}

export interface CountLineRow {
  id: number
  itemId: number
  code: string
  name: string
  binId: number
  bin: string
  site: string
  lot: string | null
  piece: string | null
  status: string
  stockUnit: string
  symbol: string
  finestStep: string
  counted: string | null
  entered: string
  unit: string
  first: string | null
  recount: boolean
  note: string
  who: string | null
  booked: string | null
  worth: string | null
  moved: number
}

export interface TraitRule {
  readonly name: string
  readonly kind: 'text' | 'number' | 'choice'
  readonly unit: string | null
  readonly choices: string
}

/**
 * Goods that can be told apart: a lot or a piece of an item; or an item that is kept by quantity only, which ends the
 * trail.
 */
export interface TraceNode {
  id: string
  itemId: number
  code: string
  name: string
  lotId: number | null
  lot: string | null
  pieceId: number | null
  piece: string | null
  symbol: string
  level: number
  onHand: string
  expiresOn: string | null
  madeFrom: string
  shippedTo: string
  /** It may hold some, as the way to it leads through goods that are kept by quantity only. */
  possible: boolean
}

/** `from` went into `to`, by an act. */
export interface TraceEdge {
  from: string
  to: string
  postingId: number
  label: string
  on: string
  quantity: string
  symbol: string
  possible: boolean
}

export interface Trace {
  start: string
  nodes: TraceNode[]
  edges: TraceEdge[]
}

/**
 * A line of a transfer: ordered, left, arrived and lost, in the stock unit; `free` is what the sending site can give.
 */
export interface TransferLineRow {
  id: number
  itemId: number
  code: string
  name: string
  entered: string
  unit: string
  stockUnit: string
  symbol: string
  quantity: string
  shipped: string
  received: string
  lost: string
  free: string
}
