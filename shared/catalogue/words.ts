import { COST_METHODS } from '~~/core/costing'

export const ITEM_SOURCES = ['bought', 'made', 'kit', 'broken down', 'moved from another site'] as const

export const ITEM_STATUSES = ['active', 'no longer bought', 'retired'] as const

export const ITEM_KINDS = ['stocked', 'service'] as const

export const TRACKINGS = ['none', 'lot', 'piece'] as const

export const COSTINGS = COST_METHODS

export const KIT_POLICIES = ['sealed', 'open', 'either'] as const

/**
 * How much a planned order is for: exactly what is missing, a fixed quantity, what is missing for some days, up to the
 * maximum, the economic quantity, or what costs least over the plan.
 */
export const ORDER_RULES = ['exact', 'fixed', 'cover', 'up to', 'economic', 'least cost'] as const

export const CODE_KINDS = ['barcode', 'code'] as const

export const TRAIT_KINDS = ['text', 'number', 'choice'] as const

/** Fields of an item that a group may state for all in it. */
export const INHERITABLE = [
  'source',
  'stockUnit',
  'buyingUnit',
  'sellingUnit',
  'makingUnit',
  'finestStep',
  'tracking',
  'costing',
  'shelfLifeDays',
  'leadDays',
] as const

export type Inheritable = (typeof INHERITABLE)[number]
