import * as z from 'zod'
import { describeGtinError, readGtin } from '~~/core/codes'
import { Decimal, Id, Money, Text } from '../primitives'
import { CODE_KINDS, TRAIT_KINDS, ITEM_SOURCES, TRACKINGS, COSTINGS } from './words'
import {
  unit,
  positiveAmount,
  Span,
  inOrder,
  ENDS_FIRST,
  Rank,
  Short,
  Days,
  OneOf,
  optional,
  OptionalId,
  mark,
} from './fields'

export const Relation = z.object({ unit, per: positiveAmount('a content'), ofUnit: unit })

export const Tier = z
  .object({ fromQuantity: Decimal('the quantity'), ...Span, price: Money })
  .refine(inOrder, ENDS_FIRST)

export type Tier = z.output<typeof Tier>

export const Terms = z.object({
  supplierId: Id,
  rank: Rank.default(1),
  supplierCode: Short(),
  unit,
  price: Money,
  tiers: z.array(Tier).default([]),
  minimum: Decimal('the minimum').default('0'),
  multiple: Decimal('the multiple').default('0'),
  leadDays: Days('working days'),
})

export const ItemCode = z
  .object({ code: Text('a code', 80), kind: OneOf(CODE_KINDS).default('code'), unit: optional(unit), whose: Short() })
  .superRefine((entry, context) => {
    const digits = entry.code.replace(/[\s-]/g, '')
    if (entry.kind !== 'barcode' || !/^\d{8}$|^\d{12,14}$/.test(digits)) {
      return
    }
    const read = readGtin(digits)
    if (!read.ok) {
      context.addIssue({ code: 'custom', path: ['code'], message: describeGtinError(read.error) })
    }
  })

export const ItemPrice = z
  .object({
    priceListId: OptionalId,
    customerId: OptionalId,
    unit,
    fromQuantity: Decimal('the quantity').default('0'),
    ...Span,
    price: Money,
  })
  .refine(inOrder, ENDS_FIRST)
  .refine((p) => p.priceListId === null || p.customerId === null, {
    message: 'A price belongs to a list or to a customer, not to both.',
    path: ['customerId'],
  })

export const ItemStockLevels = z
  .object({
    siteId: OptionalId,
    ...Span,
    yearly: z.boolean().default(false),
    safetyStock: mark('the safety stock'),
    reorderPoint: mark('the reorder point'),
    targetStock: mark('the target'),
    maximumStock: mark('the maximum'),
  })
  .refine((m) => inOrder(m) || m.yearly, ENDS_FIRST)
  .refine((m) => !m.yearly || (m.fromOn !== null && m.untilOn !== null), {
    message: 'A yearly season needs its first and last day.',
    path: ['fromOn'],
  })

export const Substitute = z.object({
  itemId: Id,
  rank: Rank.default(1),
  per: positiveAmount('a ratio').default('1'),
  bothWays: z.boolean().default(false),
})

export const Link = z.object({
  title: Short(),
  url: z.url({ protocol: /^https?$/, error: 'Give an address that begins with http:// or https://.' }).max(500),
})

export type Link = z.output<typeof Link>

export const Trait = z
  .object({
    name: Text('a name', 60),
    kind: OneOf(TRAIT_KINDS).default('text'),
    unit: optional(unit),
    choices: Short(500),
  })
  .refine((t) => t.kind !== 'choice' || t.choices.split(',').filter((c) => c.trim()).length >= 2, {
    message: 'Give at least two choices, with commas between.',
    path: ['choices'],
  })

export type Trait = z.output<typeof Trait>

export const Address = z.object({ name: Text('a name', 80), address: Text('an address', 500) })

export type Address = z.output<typeof Address>

export const FinestStep = z
  .string('Give the finest step.')
  .trim()
  .regex(/^\d+(\.\d+)?$/, 'Write the smallest quantity to record, for example 0.001.')
  .refine((t) => /[1-9]/.test(t), 'The finest step must be above zero.')

export const ShelfLife = optional(
  z.coerce.number('Give days.').int('Give whole days.').positive('Give days above zero.').max(36_500),
)

/** What a group may state; a field that is absent comes from the group above. */
export const GroupDefaults = z
  .object({
    source: OneOf(ITEM_SOURCES),
    stockUnit: unit,
    buyingUnit: unit,
    sellingUnit: unit,
    makingUnit: unit,
    finestStep: FinestStep,
    tracking: OneOf(TRACKINGS),
    costing: OneOf(COSTINGS),
    shelfLifeDays: z.coerce.number('Give days.').int('Give whole days.').positive('Give days above zero.'),
    leadDays: Days('working days'),
    countDays: z.coerce
      .number('Give days.')
      .int('Give whole days.')
      .positive('Give days above zero.')
      .max(3650, 'Ten years at most.'),
  })
  .partial()

export type GroupDefaults = z.output<typeof GroupDefaults>
