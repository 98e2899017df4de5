import * as z from 'zod'
import { Day, Id, Key, Money } from '../primitives'
import { COSTINGS } from '../catalogue/words'

export const EXPORTS = [
  'items',
  'balances',
  'moves',
  'journal',
  'stock-value',
  'not-invoiced',
  'sales-orders',
  'purchase-orders',
  'planned-orders',
  'lots',
  'low-stock',
] as const
export type ExportName = (typeof EXPORTS)[number]
export const ExportParams = z.object({ table: z.enum(EXPORTS, 'There is no such export.') })
const OptionalDay = z.union([Day, z.literal('').transform(() => null), z.null()]).default(null)
export const JournalQuery = z.object({
  before: z.coerce.number().int().optional(),
  from: OptionalDay,
  until: OptionalDay,
})
export const AsOfQuery = z.object({ asOf: OptionalDay })
export const VALUE_BY = ['item', 'site', 'group', 'lot'] as const
export const ValueQuery = z.object({ asOf: OptionalDay, by: z.enum(VALUE_BY).default('item') })
/** What an export is narrowed to: what the screen that it belongs to is. */
export const ExportQuery = JournalQuery.omit({ before: true }).extend(ValueQuery.shape)
export type ExportQuery = z.infer<typeof ExportQuery>
export const CloseBooks = z.object({ through: z.union([Day, z.literal('').transform(() => null), z.null()]) })
export const ChangeMethod = z.object({
  itemIds: z.array(Id).min(1, 'Choose at least one item.').max(5000),
  method: z.enum(COSTINGS, 'Choose a method.'),
  standardCost: z.union([Money, z.literal('').transform(() => null), z.null()]).default(null),
})
export const ApplyMethod = ChangeMethod.extend({ key: Key })
export type ChangeMethod = z.infer<typeof ChangeMethod>
export const NewStandard = z.object({ itemId: Id, cost: Money })
export const ApplyStandard = NewStandard.extend({ key: Key })
export const Limits = z.object({
  limits: z.record(
    z.string(),
    z
      .string()
      .trim()
      .regex(/^(\d+(\.\d{1,2})?)?$/, 'Write an amount such as 50, or leave it empty.'),
  ),
})

/** What a re-valuation would do, before → after, in minor units: stock by item, and every account that it touches. */
export interface Revaluing {
  readonly items: readonly {
    readonly itemId: number
    readonly code: string
    readonly name: string
    readonly before: string
    readonly after: string
  }[]
  readonly accounts: readonly { readonly account: string; readonly amount: string }[]
  readonly moves: number
}

/** What stock is worth on the evening of a day (ISO 8601), in minor units. */
export interface ValueOnDay {
  readonly day: string
  readonly value: string
}
