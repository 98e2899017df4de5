import type { Source, Demand } from '~~/core/planning/input'

/**
 * An item on the board; `site` where it is planned at another than the main one. `source`: how it comes as its item
 * says; `plannedSource`: how this plan brings it there.
 */
export interface PlannedItem {
  itemId: number
  code: string
  name: string
  symbol: string
  decimals: number
  step: string
  source: string
  plannedSource: Source['kind']
  site: string | null
  group: string
  supplier: string | null
}

/** So many documents or postings of a kind that came since a plan was read. */
export interface HappenedSince {
  readonly what: string
  readonly count: number
}

/** A message in words; with the open order that it says to move, where one can be moved from here. */
export interface ToldMessage {
  code: string
  /** The node of the plan it is about, and that node's item. */
  node: string
  itemId: number
  day: string
  text: string
  supply: { id: string; label: string; from: string } | null
}

export interface WhyReason {
  label: string
  kind: Demand['kind'] | 'planned order'
  quantity: string
  day: string
  itemCode: string
  reasons: WhyReason[]
}

export interface NearTier {
  readonly itemId: number
  readonly code: string
  readonly quantity: string
  readonly more: string
  readonly costNow: number
  readonly costThen: number
}
