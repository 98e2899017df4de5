import { z } from 'zod'
import { Id, Page } from '../primitives'
import { ITEM_SOURCES, ITEM_KINDS, ITEM_STATUSES } from './words'

export const ItemQuery = Page.extend({
  status: z.enum(['', ...ITEM_STATUSES]).default(''),
  group: z.coerce.number().int().optional(),
  source: z.enum(['', ...ITEM_SOURCES]).default(''),
  kind: z.enum(['', ...ITEM_KINDS]).default(''),
  supplier: z.coerce.number().int().optional(),
})

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

export const SetMany = z.object({
  ids: z.array(Id).min(1, 'Choose at least one item.').max(50_000),
  field: z.enum(SETTABLE, 'Choose a field.'),
  value: z.string().trim().max(2000),
  inherit: z.boolean().default(false),
  dry: z.boolean().default(false),
})

export const FreeCode = z.object({ group: Id })

export type SetMany = z.output<typeof SetMany>
