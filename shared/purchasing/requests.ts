import * as z from 'zod'
import { Day, Id, Key, LotNumber, Note, OptionalDay, Price, Text, Typed, Unit, Version } from '../primitives'
import { EffectiveOn, PieceLabel, Traits } from '../stock/requests'

export const PurchaseLineEdit = z.object({ itemId: Id, quantity: Typed, unit: Unit, price: Price, dueOn: Day })
export const NewPurchaseOrder = z.object({
  key: Key,
  supplierId: Id,
  siteId: Id.nullish(),
  note: Note,
  lines: z.array(PurchaseLineEdit).min(1, 'Add at least one line.'),
})
/** An order while it is typed: only its whole lines. */
export const PurchaseDraft = NewPurchaseOrder.pick({ supplierId: true, lines: true })
export type NewPurchaseOrder = z.infer<typeof NewPurchaseOrder>
export const Receive = z.object({
  key: Key,
  version: Version,
  packingList: z.string().trim().max(80, 'Keep it to 80 characters.').default(''),
  /** The list was received before and this belongs to it too: it covers several orders, say. */
  sameList: z.boolean().default(false),
  effectiveOn: EffectiveOn,
  lines: z
    .array(
      z.object({
        lineId: Id,
        quantity: Typed,
        unit: Unit,
        binId: Id,
        lot: LotNumber,
        expiresOn: OptionalDay.default(null),
        /** Why more than was ordered, or what has expired, is taken in. */
        reason: z.string().trim().max(120, 'Keep it to 120 characters.').default(''),
        traits: Traits,
        /**
         * Of an item that is kept in pieces: each with its measure; `quantity` is then what the packing list says of
         * all.
         */
        pieces: z
          .array(z.object({ quantity: Typed, unit: Unit, label: PieceLabel, lot: LotNumber, traits: Traits }))
          .max(500)
          .default([]),
      }),
    )
    .min(1, 'Give the quantity of at least one line.'),
})
export type Receive = z.infer<typeof Receive>
export const NewInvoice = z.object({
  key: Key,
  number: Text('the invoice’s number', 60),
  invoicedOn: Day,
  lines: z
    .array(
      z.object({
        lineId: Id,
        quantity: Typed,
        unit: Unit,
        amount: z
          .string()
          .trim()
          .regex(/^\d+(\.\d{1,2})?$/, 'Write an amount such as 230.00.'),
      }),
    )
    .min(1, 'Give at least one line.'),
})
export type NewInvoice = z.infer<typeof NewInvoice>
export const CancelInvoice = z.object({ key: Key })
export const CloseShort = z.object({ version: Version, lineId: Id, open: z.boolean().default(false) })
