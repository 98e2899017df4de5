import { COST_METHODS } from '~~/core/costing'
import type { Right } from '../company/rights'

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

/** Everything in the catalogue that is defined once and used by reference, by the name its pages and routes have. */
export const DEFINITIONS = [
  'items',
  'units',
  'groups',
  'suppliers',
  'customers',
  'price-lists',
  'sites',
  'bins',
  'routes',
  'calendars',
  'currencies',
  'bills',
  'break-downs',
] as const
export type DefinitionKind = (typeof DEFINITIONS)[number]

export const DEFINITION_NAMES: Readonly<Record<DefinitionKind, string>> = {
  items: 'item',
  units: 'unit',
  groups: 'group',
  suppliers: 'supplier',
  customers: 'customer',
  'price-lists': 'price list',
  sites: 'site',
  bins: 'bin',
  routes: 'route',
  calendars: 'calendar',
  currencies: 'currency',
  bills: 'bill of materials',
  'break-downs': 'break-down recipe',
}

export const DIMENSIONS = ['count', 'mass', 'length', 'area', 'volume', 'time', 'pack'] as const

/** The right that it takes to change a kind: whom one sells to, and for how much, belongs to Demand. */
export const rightToChange = (kind: DefinitionKind): Right =>
  kind === 'customers' || kind === 'price-lists' ? 'demand' : 'catalogue'

/** The tables of the catalogue that can be brought in and taken out, in the order in which they build on each other. */
export const TABLES = [
  'currencies',
  'exchange-rates',
  'calendars',
  'closed-days',
  'sites',
  'bins',
  'routes',
  'units',
  'groups',
  'traits',
  'suppliers',
  'price-lists',
  'customers',
  'customer-addresses',
  'items',
  'item-units',
  'item-codes',
  'supplier-terms',
  'price-tiers',
  'prices',
  'stock-marks',
  'substitutes',
  'links',
  'bills',
  'bill-lines',
  'bill-substitutes',
  'by-products',
  'bill-steps',
  'break-downs',
] as const
/** Tables that say what things cost. */
export const COST_TABLES: readonly string[] = ['items', 'supplier-terms', 'price-tiers', 'bills', 'break-downs']
export type TableName = (typeof TABLES)[number]

/** What a file can be besides: bills written out by level, and structures as JSON. */
export const IMPORTS = [
  ...TABLES,
  'indented-bills',
  'structures',
  'opening-stock',
  'past-sales',
  'sales-orders',
  'forecast',
  'goods-received',
] as const
export type ImportName = (typeof IMPORTS)[number]

export const SYMBOLOGIES = ['Code 128', 'QR', 'GS1 DataMatrix'] as const
export const LABEL_SHEETS = ['roll 62 × 29', 'roll 100 × 50', 'A4, 3 × 8', 'A4, 2 × 7'] as const
export type LabelSheet = (typeof LABEL_SHEETS)[number]

/**
 * Many items at once: the same value in one field of each. Empty sets the field to nothing, `inherit` to what the group
 * says.
 */
export const SETTABLE = [
  'groupId',
  'status',
  'kind',
  'source',
  'tracking',
  'shelfLifeDays',
  'leadDays',
  'safetyStock',
  'reorderPoint',
  'targetStock',
  'maximumStock',
  'usualOrder',
  'orderRule',
  'coverDays',
  'orderCost',
  'holdingPercent',
  'maximumOrder',
  'pullInDays',
  'price',
  'lowestPrice',
  'highestPrice',
  'standardCost',
  'kitPolicy',
  'buyingUnit',
  'sellingUnit',
  'makingUnit',
  'name2',
  'purchaseText',
  'salesText',
  'note',
] as const
