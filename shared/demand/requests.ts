import * as z from 'zod'
import { Day, Id, Key, Lines, Note, Page, Price, Typed, Unit, Version } from '../primitives'

export const SalesLineEdit = z.object({
  id: Id.nullable().default(null),
  itemId: Id,
  quantity: Typed,
  unit: Unit,
  price: Price.default('0'),
})
const Priority = z.coerce
  .number('Give a whole number.')
  .int('Give a whole number.')
  .min(-999, 'Between −999 and 999.')
  .max(999, 'Between −999 and 999.')
/** Left out, site and priority stay as they are. */
export const SalesOrderEdit = z.object({
  dueOn: Day,
  note: Note,
  siteId: Id.nullable().optional(),
  priority: Priority.optional(),
  lines: Lines(SalesLineEdit),
  /** Whoever enters it has seen which prices lie outside what is allowed. */
  confirmed: z.boolean().optional(),
})
/** To cancel an order, or to open it again. */
export const EndOrder = z.object({ key: Key, version: Version })
export type SalesOrderEdit = z.infer<typeof SalesOrderEdit>
export const NewSalesOrder = SalesOrderEdit.extend({ key: Key, customerId: Id })
export const ChangedSalesOrder = SalesOrderEdit.extend({ version: Version })
export const OrderQuery = Page.extend({ status: z.enum(['', 'open', 'done']).default('') })

/** Lines as they stand, of an order that is there or of a new one. */
export const PromiseQuery = z.object({
  orderId: Id.nullable().default(null),
  lines: Lines(z.object({ itemId: Id, quantity: Typed, unit: Unit })),
})
export interface SupplyOptionAnswer {
  readonly kind: 'free' | 'coming' | 'buy' | 'make' | 'break down' | 'move' | 'none'
  readonly text: string
  readonly from: readonly SupplyOptionAnswer[]
}
export interface PromiseLine {
  readonly itemId: number
  readonly code: string
  readonly symbol: string
  readonly kind: string
  readonly source: string
  /** The first day on which all of it can be there; null where there is no way. */
  readonly on: string | null
  readonly options: readonly SupplyOptionAnswer[]
  readonly missing: string
  readonly sites: readonly { readonly site: string; readonly free: string }[]
  readonly substitutes: readonly {
    readonly itemId: number
    readonly code: string
    readonly name: string
    readonly per: string
    readonly free: string
  }[]
}
export interface PromiseAnswer {
  readonly on: string | null
  readonly lines: readonly PromiseLine[]
}

/** What decides who is served first where there is not enough for all. */
export const ALLOCATION_RULES = ['due date', 'priority'] as const
export const AllocateMany = z.object({
  key: Key,
  rule: z.enum(ALLOCATION_RULES, 'Choose what goes first.'),
  untilOn: z
    .union([Day, z.literal('').transform(() => null)])
    .nullable()
    .default(null),
  dry: z.boolean().default(true),
})
export interface AllocatedOrder {
  readonly id: number
  readonly number: string
  readonly customer: string
  readonly dueOn: string
  readonly priority: number
  readonly lines: readonly {
    readonly code: string
    readonly quantity: string
    readonly missing: string
    readonly symbol: string
  }[]
}

/** The stand-in for a web shop: what a buyer leaves there, and what Tsumiki makes of it. */
export const NewShopOrder = z.object({
  buyer: z.string().trim().min(1, 'Give a name.').max(100),
  email: z.email('Give an e-mail address.'),
  note: Note,
  lines: Lines(
    z.object({
      code: z.string().trim().min(1),
      quantity: z.number().int('Whole pieces only.').min(1, 'At least one.').max(10_000),
      price: Price,
    }),
    'Put something into the basket.',
  ),
})
export const FetchShop = z.object({ key: Key, numbers: z.array(z.string()).max(500) })
export interface ShopProduct {
  readonly code: string
  readonly name: string
  readonly price: string
  readonly known: boolean
}
export interface ShopOrderSeen {
  readonly number: string
  readonly placedOn: string
  readonly buyer: string
  readonly email: string
  readonly note: string
  readonly total: string
  readonly lines: readonly {
    readonly code: string
    readonly quantity: number
    readonly price: string
    readonly item: string | null
  }[]
  readonly taken: { readonly id: number; readonly number: string } | null
  readonly fault: string | null
}
